<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import FileField from '@/shared/FileField.vue'
import { number, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** A list of counts: looked at line by line first, then kept; the same list again adds nothing. */
const props = defineProps<{ idea: number }>()
const emit = defineEmits<{ done: [] }>()
const text = ref('')
const lines = ref<Schemas['CountLine'][] | null>(null)
const kept = ref(false)
const params = computed(() => ({ path: { number: props.idea } }))
const look = useAction(async (files: Iterable<File>) => {
  for (const file of files) text.value = await file.text()
  kept.value = false
  const body = { text: text.value }
  lines.value = await ask(api.POST('/api/v1/ideas/{number}/counts/list/look', { params: params.value, body }))
}, [])
const bring = useAction(async () => {
  const body = { text: text.value }
  lines.value = await ask(api.POST('/api/v1/ideas/{number}/counts/list', { params: params.value, body }))
  kept.value = true
})
const comes = computed(() => lines.value?.filter((one) => one.state === 'comes in').length ?? 0)
const GLYPHS: Record<string, string> = {
  'comes in': 'met',
  'stays out': 'unmet',
  'is here already': 'merged',
}
const word = (state: string) => (kept.value && state === 'comes in' ? 'came in' : state)
</script>

<template>
  <div class="note stack tight">
    <p>
      A CSV with the columns <i>month</i> (2026-11), or <i>from</i> and <i>to</i>; <i>units</i>;
      <i>evidence</i>. Nothing is kept before you have seen it.
    </p>
    <FileField words="Choose the file" label="List of counts" accept=".csv,.txt" @chosen="look.go" />
    <table v-if="lines" class="ledger">
      <thead>
        <tr>
          <th class="num">Line</th>
          <th>Days</th>
          <th class="num">Units</th>
          <th>What becomes of it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in lines" :key="one.line">
          <td class="num">{{ one.line }}</td>
          <td>
            <template v-if="one.first && one.last"
              ><When :at="one.first" /> to <When :at="one.last"
            /></template>
          </td>
          <td class="num">{{ /^[\d.]+$/.test(one.units) ? number(one.units) : one.units }}</td>
          <td>
            <Glyph :state="GLYPHS[one.state] ?? 'met'" :word="word(one.state)" />
            <div v-for="fault in one.faults" :key="fault" class="bad">{{ fault }}</div>
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="look.error.value ?? bring.error.value" />
    <p class="row">
      <el-button
        v-if="lines && !kept"
        type="primary"
        :disabled="!comes || bring.busy.value"
        @click="bring.go()"
        >Keep {{ several(comes, 'line', 'lines') }}</el-button
      >
      <el-button @click="emit('done')">{{ kept ? 'Close' : 'Cancel' }}</el-button>
    </p>
  </div>
</template>
