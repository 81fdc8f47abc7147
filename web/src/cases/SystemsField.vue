<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import Suggest from '@/shared/Suggest.vue'
import { SYSTEM_ACCESS } from '@/api/words'
import type { FactSheet } from './factSheet'

interface System {
  name: string
  access: string
}

/** The systems that the work touches, chosen from those known or named anew, each with how a robot reaches it. */
const props = defineProps<{ sheet: FactSheet; known: Schemas['SystemChoice'][] }>()
const value = computed(() => props.sheet.rowsOf<System>('systems'))
const version = computed(() => props.sheet.of('systems').version)
const disabled = computed(() => props.sheet.locked.value)
const rows = ref<System[]>([])
// While a row is being typed, what comes from elsewhere must not take it away.
const typing = ref(false)
let seen = 0
watch(typing, (now) => now && (seen = version.value))
const copy = (given: System[]): System[] => given.map((row) => ({ ...row }))
watch(
  () => JSON.stringify(value.value),
  () => {
    if (!typing.value) rows.value = copy(value.value)
  },
  { immediate: true },
)
const found = (name: string): Schemas['SystemChoice'] | undefined =>
  props.known.find((one) => one.name.toLowerCase() === name.trim().toLowerCase())
function name(row: System) {
  const one = found(row.name)
  if (one) {
    row.name = one.name
    row.access ||= one.access
  }
  send()
}
function send() {
  const whole = rows.value.filter((row) => row.name.trim() && row.access)
  if (whole.length !== rows.value.length) return
  const other = typing.value && seen !== version.value ? seen : undefined
  typing.value = false
  void props.sheet.typedOver('systems', copy(whole), other)
}
function drop(index: number) {
  rows.value.splice(index, 1)
  send()
}
function add() {
  typing.value = true
  rows.value.push({ name: '', access: '' })
}
</script>

<template>
  <div class="stack tight" data-field="systems">
    <div v-for="(row, n) in rows" :key="n" class="row">
      <Suggest
        v-model="row.name"
        :chars="20"
        :maxlength="80"
        :known="known.map((one) => one.name)"
        :label="`System ${n + 1}`"
        placeholder="Type a part of its name"
        :disabled="disabled"
        @typing="typing = true"
        @keep="name(row)"
      />
      <Choice
        v-model="row.access"
        :options="SYSTEM_ACCESS"
        :label="`Access to system ${n + 1}`"
        placeholder="by …"
        :disabled="disabled"
        @update:model-value="send"
      />
      <span v-if="row.name.trim() && !found(row.name)" class="new">new</span>
      <span v-else-if="found(row.name)?.state === 'new'" class="new">new, to be looked at</span>
      <el-button
        v-if="!disabled"
        :aria-label="`Take off system ${n + 1}`"
        link
        type="primary"
        @click="drop(n)"
      >
        Take off
      </el-button>
    </div>
    <p v-if="!rows.length" class="quiet">missing</p>
    <p v-if="!disabled">
      <el-button @click="add">Add a system</el-button>
      <span class="quiet"> One that the list lacks is entered there as new, and used at once.</span>
    </p>
    <p v-if="sheet.fault('systems')" class="bad" role="alert">{{ sheet.fault('systems') }}</p>
  </div>
</template>

<style scoped>
.new {
  font-size: 12px;
  border: 1px dashed var(--ink-2);
  padding: 0 5px;
}
</style>
