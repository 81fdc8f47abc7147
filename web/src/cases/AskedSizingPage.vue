<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { number, share } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Mark from '@/shared/Mark.vue'
import Problem from '@/shared/Problem.vue'
import ArrivesField from '@/cases/ArrivesField.vue'
import Conflict from '@/shared/Conflict.vue'
import FactField from './FactField.vue'
import MendsField from './MendsField.vue'
import PeaksField from './PeaksField.vue'
import { OPTIONAL } from '@/api/words'
import { GROUPS } from './sizingFields'
import SystemsField from './SystemsField.vue'
import { useFacts, type Fact } from './useFacts'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Just the sizing sheet, for an expert who came by a link: no sign-in, each answer under their name. */
const route = useRoute()
const queries = useQueryClient()
const token = computed(() => String(route.params.token))
const path = computed(() => ({ params: { path: { token: token.value } } }))
const query = useQuery({
  queryKey: ['ideas', 'asked', token],
  retry: false,
  queryFn: () => ask(api.GET('/api/v1/asked-sizings/{token}', path.value)),
})
const data = computed(() => query.data.value)
const facts = useFacts(
  () => 0,
  () => data.value?.fields ?? [],
  (body) => ask(api.PUT('/api/v1/asked-sizings/{token}/facts', { ...path.value, body })),
)
const fact = (field: string): Fact =>
  facts.find(field) ?? { field, label: field, source: '', date: '', own: false, value: null, version: 0 }
const asked = (field: string): boolean => (data.value?.fields ?? []).some((one) => one.field === field)
const groups = computed(() =>
  GROUPS.map((group) => ({ ...group, fields: group.fields.filter((one) => asked(one.field)) })).filter(
    (group) => group.fields.length,
  ),
)
const peaks = computed(() => (facts.value('peaks') || null) as string[] | null)
const mends = computed(() => (facts.value('mends') || null) as Record<string, number> | null)
const remark = ref('')
const thanked = ref(false)
const done = useAction(async () => {
  await ask(api.POST('/api/v1/asked-sizings/{token}/done', { ...path.value, body: { remark: remark.value } }))
  unsent.done()
  thanked.value = true
  queries.removeQueries({ queryKey: ['ideas', 'asked'] })
}, [])
const unsent = useDraft('Your remark', () => `asked-${String(route.params.token).slice(0, 12)}`, { remark })
</script>

<template>
  <main>
    <p class="name"><Mark /> Tallyman</p>
    <p v-if="thanked" class="note">Thank you. Whoever asked you is told; you can close this page.</p>
    <Loaded v-else :pending="query.isPending.value" :error="query.error.value">
      <div v-if="data" class="stack">
        <header class="stack tight">
          <h1>{{ data.title }}</h1>
          <p class="lead">{{ data.what }}</p>
          <p>
            {{ data.person }}, {{ data.asker }} of {{ data.company }} asks you what you know about this work.
            Each answer is kept under your name when you leave its field; leave empty what you do not know.
          </p>
          <p v-if="data.words" class="note">“{{ data.words }}”</p>
        </header>
        <p v-if="!data.open" class="note care">
          This work is sized by now, so nothing can be changed here any more. Thank you.
        </p>
        <Conflict
          v-if="facts.clash.value"
          :said="facts.clash.value.message"
          :rows="facts.rows.value"
          :names="facts.names.value"
          @settle="facts.settle"
        />
        <Problem :error="facts.error.value" />
        <section v-for="group in groups" :key="group.name">
          <h2>{{ group.name }}</h2>
          <div class="fields">
            <FactField
              v-for="one in group.fields"
              :key="one.field"
              :fact="fact(one.field)"
              :value="facts.value(one.field)"
              :fault="facts.faults[one.field]"
              :unit="one.unit"
              :disabled="!data.open"
              :optional="OPTIONAL.includes(one.field)"
              :kind="one.kind"
              :choices="one.choices"
              :about="one.about"
              explain
              @keep="(now, seen) => facts.typedOver(one.field, now, seen)"
            />
          </div>
        </section>
        <section v-if="asked('peaks')">
          <h2>How the year goes</h2>
          <PeaksField
            :value="peaks"
            :months="null"
            :disabled="!data.open"
            :fault="facts.faults.peaks"
            @keep="(now: string[] | null) => facts.keep('peaks', now)"
          />
        </section>
        <section v-if="asked('systems')" class="stack tight">
          <h2>Systems it touches</h2>
          <SystemsField
            :value="(facts.value('systems') || []) as { name: string; access: string }[]"
            :known="data.systems"
            :disabled="!data.open"
            :fault="facts.faults.systems"
            :version="fact('systems').version"
            @keep="(now, seen) => facts.typedOver('systems', now, seen)"
          />
        </section>
        <section v-if="asked('arrives')" class="stack tight">
          <h2>What it arrives as, by parts</h2>
          <ArrivesField :facts="facts" :disabled="!data.open" />
        </section>
        <section v-if="asked('mends')" class="stack tight">
          <h2>What it should mend</h2>
          <MendsField
            :value="mends"
            :disabled="!data.open"
            :fault="facts.faults.mends"
            @keep="(now) => facts.keep('mends', now)"
          />
        </section>
        <p v-if="data.results.hours_per_year" class="quiet">
          All in all that comes to {{ number(data.results.volume_per_year) }} items and
          {{ number(data.results.hours_per_year) }} h a year<template v-if="data.results.automatable_share"
            >; a robot could take {{ share(data.results.automatable_share, 0) }} of it</template
          >.
        </p>
        <form v-if="data.open" class="stack tight" @submit.prevent="done.go()">
          <DraftNote :draft="unsent" />
          <label for="remark">Anything else that {{ data.asker }} should know?</label>
          <el-input id="remark" v-model="remark" :rows="3" maxlength="1000" type="textarea" />
          <p class="row">
            <el-button :disabled="done.busy.value || facts.busy.value > 0" type="primary" native-type="submit"
              >That is all</el-button
            >
            <span class="quiet">The link works until then.</span>
          </p>
          <Problem :error="done.error.value" />
        </form>
      </div>
    </Loaded>
  </main>
</template>

<style scoped>
main {
  max-width: 860px;
  margin: 32px auto;
  background: var(--sheet);
  border-left: 3px double var(--rule);
  padding: 24px 32px;
}
.name {
  font: 600 21px/28px var(--title-face);
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--ink-2);
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(160px, 1fr));
  gap: 12px 20px;
  margin-top: 8px;
}
@media (max-width: 700px) {
  main {
    margin: 0;
    padding: 16px;
  }
}
</style>
