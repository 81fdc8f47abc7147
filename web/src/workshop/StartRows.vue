<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, newKey, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DraftNote from '@/shared/DraftNote.vue'
import Field from '@/shared/Field.vue'
import FileField from '@/shared/FileField.vue'
import { several } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'
import type { Schema } from '@/shared/schema'

/** A run for each row of a table of inputs: looked at row by row first, then started. */
const props = defineProps<{
  routine: Pick<Schemas['Routine'], 'id' | 'name' | 'input_schema'>
  robot: number | null
  at: string | null
}>()
// Of those that fit so many stand there; those that do not all do.
const FIRST = 20
const router = useRouter()
const text = ref('')
const lines = ref<Schemas['ListLine'][] | null>(null)
const path = computed(() => ({ number: props.routine.id }))
const names = computed(() => Object.keys((props.routine.input_schema as Schema).properties ?? {}))
const look = useAction(async () => {
  lines.value = null
  const body = { text: text.value }
  lines.value = await ask(
    api.POST('/api/v1/routines/{number}/starts/rows/look', { params: { path: path.value }, body }),
  )
}, [])
async function chosen([file]: File[]) {
  if (!file) return
  text.value = await file.text()
  await look.go()
}
const wrong = computed(() => (lines.value ?? []).filter((one) => one.faults.length))
const good = computed(() => (lines.value ?? []).filter((one) => !one.faults.length))
const key = newKey()
const start = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/routines/{number}/starts/rows', {
      params: { path: path.value, header: { 'idempotency-key': key } },
      body: { text: text.value, robot_id: props.robot, at: props.at },
    }),
  )
  unsent.done()
  await router.push(`/runs/groups/${made.group}`)
})
const unsent = useDraft(`The table for ${props.routine.name}`, () => `rows-${props.routine.id}`, { text })
</script>

<template>
  <section class="stack tight">
    <DraftNote :draft="unsent" />
    <p class="quiet">
      A line for each run, below a line of heads: <b>{{ names.join(', ') || 'it takes no inputs' }}</b>.
      Copied out of a spreadsheet, or as CSV. What a row leaves out is what the set-up says.
    </p>
    <template v-if="!lines">
      <Field v-slot="{ id }" label="The table">
        <el-input :id="id" v-model="text" type="textarea" :rows="8" :placeholder="names.join(';')" />
      </Field>
      <p class="row">
        <el-button type="primary" :disabled="!text.trim() || look.busy.value" @click="look.go()"
          >Look at it</el-button
        >
        <FileField words="Choose a file" label="Table of inputs" accept=".csv,text/csv" @chosen="chosen" />
      </p>
    </template>
    <Problem :error="look.error.value ?? start.error.value" />
    <template v-if="lines">
      <p role="status">
        <b>{{ several(good.length, 'run', 'runs') }}</b> to be started<template v-if="wrong.length"
          >, <b class="bad">{{ several(wrong.length, 'row', 'rows') }}</b> refused</template
        >.
      </p>
      <table v-if="wrong.length" class="ledger" aria-label="Rows that are refused">
        <tbody>
          <tr v-for="one in wrong" :key="one.line">
            <td style="width: 80px">Line {{ one.line }}</td>
            <td>
              {{ one.name }}
              <div v-for="fault in one.faults" :key="fault" class="bad">{{ fault }}</div>
            </td>
          </tr>
        </tbody>
      </table>
      <table v-if="good.length" class="ledger" aria-label="Rows that start a run">
        <tbody>
          <tr v-for="one in good.slice(0, FIRST)" :key="one.line">
            <td style="width: 80px">Line {{ one.line }}</td>
            <td>{{ one.name || 'as its set-up says' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="good.length > FIRST" class="quiet">
        and {{ several(good.length - FIRST, 'more row', 'more rows') }} that fit.
      </p>
      <p class="row">
        <el-button type="primary" :disabled="!good.length || start.busy.value" @click="start.go()"
          >Start {{ several(good.length, 'run', 'runs') }}</el-button
        >
        <el-button @click="lines = null">Change the table</el-button>
      </p>
    </template>
  </section>
</template>
