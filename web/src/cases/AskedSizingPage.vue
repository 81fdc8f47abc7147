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
import FactTrouble from './FactTrouble.vue'
import { useFactSheet } from './factSheet'
import SizingFacts from './SizingFacts.vue'
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
const sheet = useFactSheet({
  idea: () => 0,
  fields: () => data.value?.fields,
  locked: () => !data.value?.open,
  put: (body) => ask(api.PUT('/api/v1/asked-sizings/{token}/facts', { ...path.value, body })),
})
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
        <FactTrouble :sheet="sheet" />
        <SizingFacts :sheet="sheet" :systems="data.systems" :months="null" explain />
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
            <el-button :disabled="done.busy.value || sheet.busy.value > 0" type="primary" native-type="submit"
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
@media (max-width: 700px) {
  main {
    margin: 0;
    padding: 16px;
  }
}
</style>
