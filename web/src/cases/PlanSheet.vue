<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { dayText } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'
import FactFields from './FactFields.vue'
import FactTrouble from './FactTrouble.vue'
import { useCase, useFactSheet } from './factSheet'
import PhaseDays from './PhaseDays.vue'
import { following, type Phase } from './phases'
import PhasesSpent from './PhasesSpent.vue'
import NumberField from '@/shared/NumberField.vue'
import TimeAxis from '@/shared/TimeAxis.vue'

/** The plan in working days: phases, their dates, and the promise beside them. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
const query = useCase(() => props.idea.id)
const data = computed(() => query.data.value)
const sheet = useFactSheet({
  idea: () => props.idea.id,
  fields: () => data.value?.fields,
  locked: () => !props.idea.may.size,
})
const { locked } = sheet
const source = computed(() => sheet.of('phases'))
const given = computed(() => sheet.rowsOf<Phase>('phases'))
const rows = ref<Phase[]>([])
const table = ref<HTMLElement | null>(null)
// The version of the phases that the rows began with.
let seen = 0
watch(
  () => JSON.stringify(given.value),
  () => {
    // What comes from elsewhere does not take away a phase that is being typed.
    if (table.value?.contains(document.activeElement)) return
    rows.value = given.value.map(following)
    seen = source.value.version
  },
  { immediate: true },
)
const placed = computed(() => data.value?.plan?.phases ?? [])
const promised = computed(() => data.value?.promise?.plan.phases ?? [])
/** What is expected, and below it what was promised. */
const axis = computed(() =>
  placed.value.map(({ name, start, end }, n) => {
    const then = promised.value[n]
    const bars = [{ from: start, to: end, words: `expected ${dayText(start)} to ${dayText(end)}` }]
    const words = then && `promised ${dayText(then.start)} to ${dayText(then.end)}`
    return {
      name,
      bars: then ? [...bars, { from: then.start, to: then.end, words: words!, behind: true }] : bars,
    }
  }),
)
function send() {
  if (rows.value.every((row) => row.name.trim()))
    void sheet.typedOver(
      'phases',
      rows.value.map((row) => ({ ...row })),
      seen === source.value.version ? undefined : seen,
    )
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <p v-if="!rows.length" class="note care">
        The plan follows from the build effort, which is still missing.
        <el-button link type="primary" @click="emit('supply', 'sizing', 'steps')">Go to the sizing</el-button>
      </p>
      <template v-else>
        <p>
          Now expected from <b><When :at="data.start" /></b> to go-live on <b><When :at="data.go_live" /></b>.
          Weekends and the company's closed days are left out.
        </p>
        <table ref="table" class="ledger">
          <thead>
            <tr>
              <th>Phase</th>
              <th class="num">Person-days</th>
              <th class="num">A day costs</th>
              <th class="num">Working days</th>
              <th class="num">Lag, days</th>
              <th class="num">From</th>
              <th class="num">To</th>
              <th v-if="promised.length" class="num">Promised to</th>
              <th v-if="!locked"></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, n) in rows" :key="n">
              <td>
                <el-input
                  v-model="row.name"
                  style="--chars: 14"
                  :aria-label="`Name of phase ${n + 1}`"
                  :disabled="locked"
                  @change="send"
                />
              </td>
              <td class="num">
                <NumberField
                  v-model="row.person_days"
                  :chars="5"
                  :label="`Person-days of ${row.name}`"
                  :disabled="locked"
                  @keep="send"
                />
              </td>
              <td class="num">
                <NumberField
                  v-model="row.day_rate"
                  :chars="6"
                  :label="`Day rate of ${row.name}`"
                  :disabled="locked"
                  @keep="send"
                />
              </td>
              <td class="num">
                <PhaseDays v-model="row.days" :phase="row" :disabled="locked" @keep="send" />
              </td>
              <td class="num">
                <NumberField
                  v-model="row.lag"
                  :chars="4"
                  :label="`Lag of ${row.name}`"
                  :disabled="locked"
                  @keep="send"
                />
              </td>
              <td class="num"><When :at="placed[n]?.start" /></td>
              <td class="num"><When :at="placed[n]?.end" /></td>
              <td v-if="promised.length" class="num"><When :at="promised[n]?.end" /></td>
              <td v-if="!locked" class="num">
                <el-button
                  :aria-label="`Take off ${row.name}`"
                  link
                  type="primary"
                  @click="(rows.splice(n, 1), send())"
                >
                  Take off
                </el-button>
              </td>
            </tr>
          </tbody>
        </table>
        <TimeAxis :rows="axis" label="Phases over time" :now="new Date().toISOString()" />
        <p v-if="promised.length" class="quiet">
          Thick is what is now expected, thin below it what was promised.
        </p>
        <p class="quiet">
          {{ source.source }}<template v-if="source.date">, {{ dayText(source.date) }}</template>
        </p>
        <p v-if="sheet.fault('phases')" class="bad" role="alert">{{ sheet.fault('phases') }}</p>
        <div v-if="!locked" class="row">
          <el-button
            @click="
              rows.push({
                name: '',
                person_days: '1',
                day_rate: rows[0]?.day_rate ?? null,
                days: null,
                lag: 0,
              })
            "
          >
            Add a phase
          </el-button>
          <el-button v-if="source.own" @click="sheet.keep('phases', '')"
            >Follow the build effort again</el-button
          >
        </div>
        <FactFields
          v-if="sheet.has('plan_start')"
          :sheet="sheet"
          :fields="[{ field: 'plan_start', kind: 'date' }]"
        />
        <PhasesSpent v-if="data.promise" :idea="idea" :data="data" />
      </template>
      <FactTrouble :sheet="sheet" />
    </div>
  </Loaded>
</template>
