<script setup lang="ts" generic="T extends string | number">
import { computed } from 'vue'

/** One of several; by typing once there are many. `nothing` names the choice of none, which is kept as null. */
const props = defineProps<{
  id?: string
  options: readonly { value: T; words: string }[]
  nothing?: string
  label?: string
  disabled?: boolean
  invalid?: boolean
}>()
const MANY = 9
const NARROWEST = 8
const WIDEST = 44
const NONE = ''
const value = defineModel<T | null>({ required: true })
const chosen = computed({
  get: () => value.value ?? NONE,
  set: (now: T | typeof NONE) => (value.value = now === NONE ? null : now),
})
const all = computed(() => [
  ...(props.nothing === undefined ? [] : [{ value: NONE, words: props.nothing }]),
  ...props.options,
])
// As wide as its longest words, within bounds.
const chars = computed(() =>
  Math.min(WIDEST, Math.max(NARROWEST, ...all.value.map((one) => one.words.length))),
)
</script>

<template>
  <el-select
    :id="id"
    v-model="chosen"
    :empty-values="[undefined]"
    :style="`--chars: ${chars}`"
    :filterable="options.length > MANY"
    :disabled="disabled"
    :aria-label="label"
    :aria-invalid="invalid"
  >
    <el-option v-for="one in all" :key="one.value" :label="one.words" :value="one.value" />
  </el-select>
</template>
