<script setup lang="ts" generic="T extends string | number | null">
import type { InputInstance } from 'element-plus'
import { computed, ref, useId, watch } from 'vue'
import { readNumber, said, writeNumber, type Kind } from './number'

/**
 * A number as its reader writes numbers, with its unit behind it. It keeps no other value than the one it shows:
 * what can be read in two ways is asked back here. `numeric` gives numbers, else exact decimals as text.
 */
const props = defineProps<{
  id?: string
  modelValue: T | undefined
  kind?: Kind
  unit?: string
  numeric?: boolean
  whole?: boolean
  min?: number
  max?: number
  chars?: number
  disabled?: boolean
  invalid?: boolean
  label?: string
  placeholder?: string
  describedby?: string
}>()
const emit = defineEmits<{
  'update:modelValue': [value: T]
  /** The field was left: what stands there is meant. */
  keep: [value: string]
}>()
const kind = computed<Kind>(() => props.kind ?? 'number')
const typed = ref<string | null>(null)
const left = ref(true)
const text = computed(() => typed.value ?? writeNumber(props.modelValue, kind.value))
const read = computed(() => readNumber(text.value, kind.value))
const bounds = (value: string): string | undefined => {
  if (value === '') return undefined
  const size = Number(value)
  if (props.whole && !/^-?\d+$/.test(value)) return 'give a whole number'
  if (props.min !== undefined && size < props.min) return `at least ${said(props.min, kind.value)}`
  if (props.max !== undefined && size > props.max) return `at most ${said(props.max, kind.value)}`
  return undefined
}
const fault = computed(() => ('fault' in read.value ? read.value.fault : bounds(read.value.value)))
const meant = computed(() => ('fault' in read.value ? read.value.meant : []))
const shownFault = computed(() => (left.value && typed.value !== null ? fault.value : undefined))
const unit = computed(() => props.unit ?? (kind.value === 'share' ? '%' : undefined))
const note = useId()

// What comes from elsewhere takes the place of what was typed only when it is another number.
watch(
  () => props.modelValue,
  (now) => {
    if ('value' in read.value && read.value.value === String(now ?? '')) return
    if (typed.value !== null && String(now ?? '') !== given.value) typed.value = null
  },
)
const given = ref(String(props.modelValue ?? ''))
function give(value: string) {
  given.value = value
  emit('update:modelValue', (props.numeric ? (value === '' ? null : Number(value)) : value) as T)
}
// What cannot be read is handed on as it was typed, so that nothing stands for it that was not meant; a form does
// not go off with it.
const field = ref<InputInstance | null>(null)
watch(fault, (now) => field.value?.input?.setCustomValidity(now ?? ''))
function type(now: string) {
  left.value = false
  typed.value = now
  if (!('value' in read.value)) return props.numeric ? undefined : give(now)
  give(read.value.value)
}
function leave() {
  left.value = true
  if (typed.value === null || fault.value || !('value' in read.value)) return
  const value = read.value.value
  typed.value = null
  emit('keep', value)
}
function mean(value: string) {
  typed.value = said(value, kind.value)
  if ('value' in read.value && !fault.value) give(read.value.value)
  leave()
}
</script>

<template>
  <span class="number-field">
    <el-input
      :id="id"
      ref="field"
      :model-value="text"
      inputmode="decimal"
      autocomplete="off"
      :style="`--chars: ${chars ?? 9}`"
      :disabled="disabled"
      :placeholder="placeholder"
      :aria-label="label"
      :aria-invalid="invalid || shownFault !== undefined"
      :aria-describedby="shownFault ? note : describedby"
      @input="type"
      @blur="leave"
      @keydown.enter="leave"
    />
    <span v-if="unit" class="quiet unit">{{ unit }}</span>
    <span v-if="shownFault" :id="note" class="quiet bad" role="alert">
      {{ shownFault }}
      <el-button v-for="one in meant" :key="one" link type="primary" @click="mean(one)">{{
        said(one, kind)
      }}</el-button>
    </span>
  </span>
</template>

<style scoped>
.number-field {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 6px;
  align-items: center;
}
.bad {
  flex-basis: 100%;
}
</style>
