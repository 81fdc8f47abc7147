<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useAction } from './action'
import DraftNote from './DraftNote.vue'
import Field from './Field.vue'
import FileField from './FileField.vue'
import { several } from './format'
import Problem from './Problem.vue'
import { useDraft } from './unsaved'

/**
 * A list that is brought in from a CSV file, or with `pasted` from a table that is pasted: looked at line by line
 * first, then brought in; sent again it changes nothing.
 */
const props = defineProps<{
  title: string
  /** What a line is about, such as a system. */
  head: string
  label: string
  look: (text: string) => Promise<Schemas['ListLine'][]>
  bring: (text: string) => Promise<Schemas['Brought']>
  pasted?: string
}>()
const emit = defineEmits<{ done: [] }>()
const text = ref('')
const name = ref('')
const lines = ref<Schemas['ListLine'][] | null>(null)
const done = ref<Schemas['Brought'] | null>(null)
const look = useAction(async (given: string, from: string) => {
  done.value = null
  lines.value = null
  name.value = from
  text.value = given
  lines.value = await props.look(given)
}, [])
const bring = useAction(async () => {
  done.value = await props.bring(text.value)
  lines.value = null
  if (props.pasted) text.value = ''
  unsent?.done()
  emit('done')
})
// What is pasted is not lost on leaving; a file is still where it was.
const unsent = props.pasted ? useDraft(props.title, () => `list-${props.label}`, { text }) : undefined
const useful = computed(() => (lines.value ?? []).filter((one) => one.state.startsWith('to be')).length)
async function chosen([file]: File[]) {
  if (file) await look.go(await file.text(), file.name)
}
</script>

<template>
  <section class="stack tight">
    <h2>{{ title }}</h2>
    <DraftNote v-if="unsent" :draft="unsent" />
    <slot />
    <template v-if="pasted && !lines">
      <Field v-slot="{ id }" label="The table">
        <el-input :id="id" v-model="text" type="textarea" :rows="6" :placeholder="pasted" />
      </Field>
    </template>
    <p v-if="!lines" class="row">
      <el-button
        v-if="pasted"
        type="primary"
        :disabled="!text.trim() || look.busy.value"
        @click="look.go(text, 'the table')"
        >Look at it</el-button
      >
      <FileField words="Choose a file" :label="label" accept=".csv,text/csv" @chosen="chosen" />
      <slot name="leave" />
    </p>
    <Problem :error="look.error.value ?? bring.error.value" />
    <p v-if="done" class="note" role="status">
      {{ done.entered }} entered, <template v-if="done.changed">{{ done.changed }} changed, </template
      >{{ done.here }} here already, {{ done.left_out }} left out.
    </p>
    <template v-if="lines">
      <table class="ledger">
        <thead>
          <tr>
            <th class="num">Line</th>
            <th>{{ head }}</th>
            <th>What happens</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in lines" :key="one.line">
            <td class="num">{{ one.line }}</td>
            <td>{{ one.name }}</td>
            <td>
              {{ one.state }}
              <div v-for="fault in one.faults" :key="fault" class="bad">{{ fault }}</div>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="row">
        <el-button :disabled="!useful || bring.busy.value" type="primary" @click="bring.go()">
          Bring in {{ several(useful, 'line', 'lines') }}
        </el-button>
        <el-button @click="lines = null">{{ pasted ? 'Change the table' : 'Cancel' }}</el-button>
        <span v-if="!useful" class="quiet">No line of {{ name }} would change anything.</span>
      </p>
    </template>
  </section>
</template>
