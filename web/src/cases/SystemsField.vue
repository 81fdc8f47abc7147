<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import Suggest from '@/shared/Suggest.vue'
import { SYSTEM_ACCESS } from '@/api/words'

interface System {
  name: string
  access: string
}

/** The systems that the work touches, chosen from those known or named anew, each with how a robot reaches it. */
const props = defineProps<{
  value: System[]
  known: Schemas['SystemChoice'][]
  version: number
  disabled?: boolean
  fault?: string
}>()
const emit = defineEmits<{ keep: [value: System[], seen?: number] }>()
const rows = ref<System[]>([])
// While a row is being typed, what comes from elsewhere must not take it away.
const typing = ref(false)
let seen = 0
watch(typing, (now) => now && (seen = props.version))
const copy = (given: System[]): System[] => given.map((row) => ({ ...row }))
watch(
  () => JSON.stringify(props.value),
  () => {
    if (!typing.value) rows.value = copy(props.value)
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
  const other = typing.value && seen !== props.version ? seen : undefined
  typing.value = false
  emit('keep', copy(whole), other)
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
      <el-select
        v-model="row.access"
        :aria-label="`Access to system ${n + 1}`"
        :disabled="disabled"
        :empty-values="[undefined]"
        @change="send"
      >
        <el-option value="" label="by …" />
        <el-option v-for="one in SYSTEM_ACCESS" :key="one" :value="one" :label="one" />
      </el-select>
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
    <p v-if="fault" class="bad" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.new {
  font-size: 12px;
  border: 1px dashed var(--ink-2);
  padding: 0 5px;
}
</style>
