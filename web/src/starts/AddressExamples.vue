<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { dayIn } from '@/shared/days'
import { forPython, forShell, sampleInputs } from './examples'

/** A call of the address for the shell and for Python, as it is pasted; and what it may ask for beside. */
const props = defineProps<{
  routine: Pick<Schemas['Routine'], 'id' | 'inputs' | 'input_schema'>
  url: string
  token: string
}>()
const WAIT_SECONDS = 30
const call = computed(() => ({
  url: `${props.url}?wait=${WAIT_SECONDS}`,
  token: props.token || 'THE-TOKEN',
  key: `routine-${props.routine.id}-${dayIn('UTC')}`,
  inputs: sampleInputs(props.routine.input_schema, props.routine.inputs),
}))
const examples = computed(() => [
  { name: 'Shell', text: forShell(call.value) },
  { name: 'Python', text: forPython(call.value) },
])
const copied = ref('')
async function copy(name: string, text: string) {
  await navigator.clipboard.writeText(text)
  copied.value = name
}
</script>

<template>
  <div class="stack tight">
    <p v-if="!token" class="quiet">Put your token in place of THE-TOKEN.</p>
    <section v-for="one in examples" :key="one.name" class="stack tight">
      <p class="row">
        <b>{{ one.name }}</b>
        <el-button
          link
          type="primary"
          :aria-label="`Copy the example for ${one.name}`"
          @click="copy(one.name, one.text)"
          >{{ copied === one.name ? 'Copied' : 'Copy it' }}</el-button
        >
      </p>
      <pre class="code" tabindex="0" :aria-label="`Example for ${one.name}`">{{ one.text }}</pre>
    </section>
    <p class="quiet">
      The body is its inputs; what is left out is what the set-up says. With <code>wait</code> it answers once
      the run has ended, or after so many seconds (up to 60). With <code>call_back</code> behind the address,
      such as <code>&amp;call_back=https://desk.example/ended</code>, the end is told there as JSON; only
      hosts that this installation may connect to are. How a run stands:
      <code>GET {{ url }}/runs/NUMBER</code> with the same token.
    </p>
  </div>
</template>

<style scoped>
.code {
  margin: 0;
  padding: 8px 10px;
  background: var(--margin);
  overflow-x: auto;
}
code {
  overflow-wrap: anywhere;
}
</style>
