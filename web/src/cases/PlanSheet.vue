<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { dayText } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import Conflict from '@/shared/Conflict.vue'
import FactField from './FactField.vue'
import PhasesSpent from './PhasesSpent.vue'
import { useWantedField } from './useWantedField'
import { useFacts } from './useFacts'
import NumberField from '@/shared/NumberField.vue'

interface Phase {
  name: string
  person_days: string | null
  day_rate: string | null
  days: string | number | null
  lag: string | number | null
}

/** The plan in working days: phases, their dates, and the promise beside them. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
const query = useQuery({
  queryKey: ['ideas', 'case', () => props.idea.id],
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/case', { params: { path: { number: props.idea.id } } })),
})
const data = computed(() => query.data.value)
const facts = useFacts(
  () => props.idea.id,
  () => data.value?.fields ?? [],
)
const locked = computed(() => !props.idea.may.size)
const showWanted = useWantedField()
watch(
  () => query.isSuccess.value,
  (there) => there && void showWanted(),
)
const given = computed(() => (facts.value('phases') || []) as Phase[])
const rows = ref<Phase[]>([])
const table = ref<HTMLElement | null>(null)
// The version of the phases that the rows began with.
let seen = 0
watch(
  () => JSON.stringify(given.value),
  () => {
    // What comes from elsewhere does not take away a phase that is being typed.
    if (table.value?.contains(document.activeElement)) return
    rows.value = given.value.map((row) => ({ ...row }))
    seen = facts.find('phases')?.version ?? 0
  },
  { immediate: true },
)
const placed = computed(() => data.value?.plan?.phases ?? [])
const promised = computed(() => data.value?.promise?.plan.phases ?? [])
const source = computed(() => facts.find('phases'))
function send() {
  if (rows.value.every((row) => row.name.trim()))
    void facts.typedOver(
      'phases',
      rows.value.map((row) => ({ ...row })),
      seen === facts.find('phases')?.version ? undefined : seen,
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
                <NumberField
                  v-model="row.days"
                  :chars="4"
                  :label="`Working days of ${row.name}`"
                  :disabled="locked"
                  @keep="send"
                />
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
        <p class="quiet">
          {{ source?.source }}<template v-if="source?.date">, {{ dayText(source.date) }}</template>
        </p>
        <p v-if="facts.faults.phases" class="bad" role="alert">{{ facts.faults.phases }}</p>
        <div v-if="!locked" class="row">
          <el-button
            @click="
              rows.push({ name: '', person_days: '1', day_rate: rows[0]?.day_rate ?? null, days: 1, lag: 0 })
            "
          >
            Add a phase
          </el-button>
          <el-button v-if="source?.own" @click="facts.keep('phases', '')"
            >Follow the build effort again</el-button
          >
        </div>
        <FactField
          v-if="facts.find('plan_start')"
          :fact="facts.find('plan_start')!"
          :value="facts.value('plan_start')"
          :fault="facts.faults.plan_start"
          kind="date"
          :disabled="locked"
          @keep="(now, seen) => facts.typedOver('plan_start', now, seen)"
        />
        <PhasesSpent v-if="data.promise" :idea="idea" :data="data" />
      </template>
      <Conflict
        v-if="facts.clash.value"
        :said="facts.clash.value.message"
        :rows="facts.rows.value"
        :names="facts.names.value"
        @settle="facts.settle"
      />
      <Problem :error="facts.error.value" />
    </div>
  </Loaded>
</template>
