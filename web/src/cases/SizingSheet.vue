<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { later } from '@/shared/later'
import Loaded from '@/shared/Loaded.vue'
import { useMe } from '@/shared/session'
import FactState from './FactState.vue'
import FactTrouble from './FactTrouble.vue'
import { useFactSheet, useSizing } from './factSheet'
import OpenAgain from './OpenAgain.vue'
import SizingFacts from './SizingFacts.vue'
import SizingFigures from './SizingFigures.vue'
import SizingRanges from './SizingRanges.vue'

const AskExpert = later(() => import('./AskExpert.vue'))
const Corrections = later(() => import('./Corrections.vue'))
const SizingAgreement = later(() => import('./SizingAgreement.vue'))

/** Sizing: the expert's facts, what follows from them, and a second person's agreement. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const { currency } = useMe()
const query = useSizing(() => props.idea.id)
const sizing = computed(() => query.data.value)
const sheet = useFactSheet({
  idea: () => props.idea.id,
  fields: () => sizing.value?.fields,
  locked: () => !props.idea.may.size || held.value,
})
// What somebody looks at, or agreed to, is not opened again by a key pressed in passing.
const opened = ref(false)
const held = computed(
  () =>
    !opened.value &&
    ['screened', 'sized'].includes(props.idea.stage) &&
    ['offered', 'agreed'].includes(sizing.value?.state ?? ''),
)
watch(
  () => [props.idea.id, sizing.value?.state],
  () => (opened.value = false),
)
// While something is typed, the figures are those of what stands in the fields.
const live = computed(() => sheet.preview?.live.value)
const results = computed(() => live.value?.results ?? sizing.value?.results)
const ranges = computed(() => live.value?.ranges ?? sizing.value?.ranges)
const points = computed(() =>
  Object.fromEntries(
    (sizing.value?.points ?? []).filter((one) => !one.met_at).map((one) => [one.field, one.words]),
  ),
)
/** Takes a correction over: the fact, and for what is computed the reason beside it. */
async function take(one: Schemas['CorrectionOut']) {
  const reason = `× ${one.factor}, the middle of ${one.sample} delivered ideas (${one.of})`
  await sheet.keep(one.field, one.corrected, reason)
  if (one.reason_field) await sheet.keep(one.reason_field, reason)
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="sizing && results && ranges" class="stack">
      <SizingFigures
        :results="results"
        :live="!!live"
        :share-reason="String(sheet.value('share_reason') || '')"
        :effort-reason="String(sheet.value('effort_reason') || '')"
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
      <FactTrouble :sheet="sheet" />
      <OpenAgain v-if="held && idea.may.size" :sizing="sizing" @open="opened = true" />
      <SizingFacts
        :sheet="sheet"
        :systems="sizing.systems"
        :months="ranges.months"
        :roles="sizing.roles"
        :points="points"
      />
      <Corrections :corrections="sizing.corrections" :disabled="sheet.locked.value" @take="take" />
      <AskExpert :idea="idea" :sizing="sizing" />
      <FactState
        :sheet="sheet"
        reads="You read this sheet; analysts and experts change it while it is open."
      />
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
</style>
