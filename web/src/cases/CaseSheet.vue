<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { later } from '@/shared/later'
import Loaded from '@/shared/Loaded.vue'
import CaseBeside from './CaseBeside.vue'
import CaseMonths from './CaseMonths.vue'
import CasePdf from './CasePdf.vue'
import CaseYears from './CaseYears.vue'
import FactState from './FactState.vue'
import FactTrouble from './FactTrouble.vue'
import { useCase, useFactSheet, useSizing } from './factSheet'
import CaseFigures from './CaseFigures.vue'
import CaseInputs from './CaseInputs.vue'

// The tables stand at the end, and are read once the rest is there.
const CaseVariants = later(() => import('./CaseVariants.vue'))
const CaseTables = later(() => import('./CaseTables.vue'))

/** The business case: figures with their workings, year by year, and the inputs. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
const query = useCase(() => props.idea.id)
const data = computed(() => query.data.value)
const sheet = useFactSheet({
  idea: () => props.idea.id,
  fields: () => data.value?.fields,
  locked: () => !props.idea.may.size,
})
// While something is typed, the figures are those of what stands in the fields.
const live = computed(() => sheet.preview?.live.value)
const figures = computed(() => live.value?.figures ?? data.value?.figures)
/** The chance that it pays back is drawn with the sizing, whose ranges it rests on. */
const sizing = useSizing(() => props.idea.id)
const chances = computed(() => (live.value?.ranges ?? sizing.data.value?.ranges)?.chances ?? [])
const asks = computed(() => (live.value?.ranges ?? sizing.data.value?.ranges)?.asks ?? [])
const file = (form: string): string => `/api/v1/ideas/${props.idea.id}/case/${form}`
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && figures" class="stack">
      <div class="spread">
        <p class="quiet">
          {{ live ? 'As typed; kept when you leave the field.' : 'Each figure opens its working.' }}
        </p>
        <p class="row">
          Take it out:
          <a :href="file('xlsx')" download>workbook that reckons</a>
          <CasePdf :idea="idea.id" />
          <a :href="file('json')" :download="`case-I-${idea.id}.json`">JSON</a>
        </p>
      </div>
      <div v-if="asks.length" class="note care stack tight">
        <p v-for="one in asks" :key="one.field + one.words">
          {{ one.words }}
          <el-button link type="primary" @click="emit('supply', 'sizing', one.field)">Look at it</el-button>
        </p>
      </div>
      <div v-if="data.missing.length" class="note care">
        Not all figures can be computed. Missing:
        <template v-for="(lack, n) in data.missing" :key="lack.field"
          ><template v-if="n">, </template
          ><el-button class="lack" link type="primary" @click="emit('supply', lack.sheet, lack.field)"
            >{{ lack.label }}
          </el-button></template
        >
      </div>
      <CaseFigures
        :data="data"
        :figures="figures"
        :chances="chances"
        @supply="(...to) => emit('supply', ...to)"
      />
      <CaseBeside :idea="idea" :data="data" />
      <CaseYears :data="data" :figures="figures" />
      <CaseMonths v-if="data.months" :idea="idea" :months="data.months" />
      <CaseVariants :idea="idea.id" />
      <FactTrouble :sheet="sheet" />
      <CaseInputs :idea="idea" :data="data" :sheet="sheet" />
      <CaseTables :data="data" :locked="sheet.locked.value" @day="(day) => sheet.keep('costs_on', day)" />
      <FactState
        :sheet="sheet"
        reads="You read this case; analysts and experts of its area change it from screening on."
        >Computed by {{ data.rules_version }}.</FactState
      >
    </div>
  </Loaded>
</template>

<style scoped>
.lack {
  padding: 0;
}
</style>
