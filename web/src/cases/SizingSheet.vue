<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import ArrivesField from '@/cases/ArrivesField.vue'
import Conflict from '@/shared/Conflict.vue'
import FactField from './FactField.vue'
import MendsField from './MendsField.vue'
import SizingRanges from './SizingRanges.vue'
import { OPTIONAL } from '@/api/words'
import { GROUPS, type SizingField } from './sizingFields'
import { usePreview } from './usePreview'
import { useWantedField } from './useWantedField'
import { useFacts, type Fact } from './useFacts'
import { later } from '@/shared/later'
import SizingFigures from './SizingFigures.vue'

const AskExpert = later(() => import('./AskExpert.vue'))
const Corrections = later(() => import('./Corrections.vue'))
const SizingAgreement = later(() => import('./SizingAgreement.vue'))
const PeaksField = later(() => import('./PeaksField.vue'))
const SystemsField = later(() => import('./SystemsField.vue'))

/** Sizing: the expert's facts, what follows from them, and a second person's agreement. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const { currency } = useMe()
const query = useQuery({
  queryKey: ['ideas', 'sizing', () => props.idea.id],
  queryFn: () =>
    ask(api.GET('/api/v1/ideas/{number}/sizing', { params: { path: { number: props.idea.id } } })),
})
const sizing = computed(() => query.data.value)
const preview = usePreview(() => props.idea.id)
// While something is typed, the figures are those of what stands in the fields.
const results = computed(() => preview.live.value?.results ?? sizing.value?.results)
const ranges = computed(() => preview.live.value?.ranges ?? sizing.value?.ranges)
const facts = useFacts(
  () => props.idea.id,
  () => sizing.value?.fields ?? [],
)
const fact = (field: string): Fact =>
  facts.find(field) ?? { field, label: field, source: '', date: '', own: false, value: null, version: 0 }
const locked = computed(() => !props.idea.may.size)
const showWanted = useWantedField()
watch(
  () => query.isSuccess.value,
  (there) => there && void showWanted(),
)
const peaks = computed(() => (facts.value('peaks') || null) as string[] | null)
const mends = computed(() => (facts.value('mends') || null) as Record<string, number> | null)
const points = computed(() =>
  Object.fromEntries(
    (sizing.value?.points ?? []).filter((one) => !one.met_at).map((one) => [one.field, one.words]),
  ),
)
function keep(field: string, now: string, seen?: number) {
  void facts.typedOver(field, now, seen).then(() => preview.left(field))
}
const choices = (one: SizingField): readonly string[] | undefined =>
  one.field === 'role' ? sizing.value?.roles : one.choices
/** Takes a correction over: the fact, and for what is computed the reason beside it. */
async function take(one: Schemas['CorrectionOut']) {
  const reason = `× ${one.factor}, the middle of ${one.sample} delivered ideas (${one.of})`
  await facts.keep(one.field, one.corrected, reason)
  if (one.reason_field) await facts.keep(one.reason_field, reason)
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="sizing && results && ranges" class="stack">
      <SizingFigures
        :results="results"
        :live="!!preview.live.value"
        :share-reason="String(facts.value('share_reason') || '')"
        :effort-reason="String(facts.value('effort_reason') || '')"
      />
      <p v-if="results.missing.length" class="note care">
        Missing:
        <template v-for="(lack, n) in results.missing" :key="lack.field"
          ><template v-if="n">, </template
          ><router-link :to="{ query: { sheet: 'sizing', field: lack.field } }">{{
            lack.label
          }}</router-link></template
        >
      </p>
      <div v-if="ranges.asks.length" class="note care stack tight">
        <p v-for="one in ranges.asks" :key="one.field + one.words">
          {{ one.words }}
          <router-link :to="{ query: { sheet: 'sizing', field: one.field } }">Look at it</router-link>
        </p>
      </div>
      <SizingRanges :ranges="ranges" :currency="currency" />
      <SizingAgreement :idea="idea" :sizing="sizing" />
      <Conflict
        v-if="facts.clash.value"
        :said="facts.clash.value.message"
        :rows="facts.rows.value"
        :names="facts.names.value"
        @settle="facts.settle"
      />
      <Problem :error="facts.error.value" />
      <section v-for="group in GROUPS" :key="group.name">
        <h2>{{ group.name }}</h2>
        <div class="fields">
          <FactField
            v-for="one in group.fields"
            :key="one.field"
            :fact="fact(one.field)"
            :value="facts.value(one.field)"
            :fault="facts.faults[one.field] ?? preview.fault(one.field)"
            :unit="one.unit"
            :disabled="locked"
            :optional="OPTIONAL.includes(one.field)"
            :kind="one.kind"
            :choices="choices(one)"
            :point="points[one.field]"
            :about="one.about"
            @typing="(now) => preview.type(one.field, now)"
            @keep="(now, seen) => keep(one.field, now, seen)"
          />
        </div>
      </section>
      <section>
        <h2>How the year goes</h2>
        <PeaksField
          :value="peaks"
          :months="ranges.months"
          :disabled="locked"
          :fault="facts.faults.peaks"
          @keep="(now: string[] | null) => facts.keep('peaks', now)"
        />
      </section>
      <section class="two">
        <div class="stack tight">
          <h2>Systems it touches</h2>
          <SystemsField
            :value="(facts.value('systems') || []) as { name: string; access: string }[]"
            :known="sizing.systems"
            :disabled="locked"
            :fault="facts.faults.systems"
            :version="fact('systems').version"
            @keep="(now, seen) => facts.typedOver('systems', now, seen)"
          />
          <h2>What it arrives as, by parts</h2>
          <ArrivesField :facts="facts" :disabled="locked" />
        </div>
        <div class="stack tight">
          <h2>What it should mend</h2>
          <MendsField
            :value="mends"
            :disabled="locked"
            :fault="facts.faults.mends"
            @keep="(now) => facts.keep('mends', now)"
          />
        </div>
      </section>
      <Corrections :corrections="sizing.corrections" :disabled="locked" @take="take" />
      <AskExpert :idea="idea" :sizing="sizing" />
      <p class="quiet" role="status">
        {{
          facts.busy.value
            ? 'Keeping …'
            : locked
              ? 'You read this sheet; analysts and experts change it while it is open.'
              : 'Each fact is kept when you leave its field.'
        }}
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.figures {
  gap: 48px;
  align-items: flex-start;
}
.live {
  border-left: 3px double var(--rule);
  padding-left: 12px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px 20px;
  margin-top: 8px;
}
</style>
