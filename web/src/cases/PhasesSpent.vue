<script setup lang="ts">
import { computed, reactive } from 'vue'
import { api, ask, ProblemError, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import { number } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import DayField from '@/shared/DayField.vue'
import NumberField from '@/shared/NumberField.vue'
import { useUnsaved } from '@/shared/unsaved'

/** What happened of the promised plan: person-days that each phase took, and when it ended. */
const props = defineProps<{ idea: Schemas['IdeaWhole']; data: Schemas['CaseOut'] }>()
interface Typed {
  days: string
  ended: string
}
const typed = reactive<Record<string, Typed>>({})
const rows = computed(() =>
  (props.data.promise?.plan.phases ?? []).map((phase) => ({
    ...phase,
    spent: props.data.spent.find((one) => one.phase === phase.name),
  })),
)
const form = (name: string): Typed => {
  const known = props.data.spent.find((one) => one.phase === name)
  return (typed[name] ??= { days: known?.person_days ?? '', ended: known?.ended_on ?? '' })
}
const total = computed(() => props.data.spent.reduce((sum, one) => sum + Number(one.person_days), 0))
const keep = useAction(async (phase: string) => {
  const now = form(phase)
  const known = props.data.spent.find((one) => one.phase === phase)
  await ask(
    api.PUT('/api/v1/ideas/{number}/spent', {
      params: { path: { number: props.idea.id } },
      body: { phase, person_days: now.days, ended_on: now.ended || null, version: known?.version ?? 0 },
    }),
  )
  delete typed[phase]
})
const clash = computed(() =>
  keep.error.value instanceof ProblemError && keep.error.value.code === 'conflict' ? keep.error.value : null,
)
useUnsaved('What a phase took', () =>
  Object.entries(typed).some(([name, now]) => {
    const known = props.data.spent.find((one) => one.phase === name)
    return now.days !== (known?.person_days ?? '') || now.ended !== (known?.ended_on ?? '')
  }),
)
</script>

<template>
  <section v-if="rows.length" class="stack tight">
    <h2>What happened</h2>
    <p class="quiet">
      Person-days against the promise correct later estimates once all phases have ended.
      <template v-if="total">{{ number(total, 1) }} person-days so far.</template>
    </p>
    <table class="ledger">
      <thead>
        <tr>
          <th>Phase</th>
          <th class="num">Promised to</th>
          <th class="num">Took, person-days</th>
          <th class="num">Ended on</th>
          <th>Recorded by</th>
          <th v-if="idea.may.record"></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <td>{{ row.name }}</td>
          <td class="num"><When :at="row.end" /></td>
          <template v-if="idea.may.record">
            <td class="num">
              <NumberField v-model="form(row.name).days" :chars="5" :label="`Days that ${row.name} took`" />
            </td>
            <td class="num">
              <DayField v-model="form(row.name).ended" :label="`When ${row.name} ended`" />
            </td>
          </template>
          <template v-else>
            <td class="num">{{ row.spent ? number(row.spent.person_days, 2) : '–' }}</td>
            <td class="num"><When v-if="row.spent?.ended_on" :at="row.spent.ended_on" /></td>
          </template>
          <td class="quiet">{{ row.spent?.person ?? 'not recorded' }}</td>
          <td v-if="idea.may.record" class="num">
            <el-button
              :disabled="keep.busy.value || !form(row.name).days"
              link
              type="primary"
              @click="keep.go(row.name)"
            >
              Record
            </el-button>
            <div v-if="!form(row.name).days" class="quiet">type the person-days first</div>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="field in ['person_days', 'ended_on', 'phase']" :key="field" class="bad">
      {{ faultOf(keep.error.value, field) }}
    </p>
    <p v-if="clash" class="bad" role="alert">
      {{ clash.message }} They wrote {{ clash.more.theirs }}. Load again to change it.
    </p>
    <Problem v-else :error="keep.error.value" :fields="['person_days', 'ended_on', 'phase']" />
  </section>
</template>
