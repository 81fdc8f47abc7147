<script setup lang="ts" generic="M extends string | number | null">
import { computed } from 'vue'

/**
 * One of several; by typing once there are many. `nothing` names the choice of none, which is kept as null, or as
 * `none` says; without it `placeholder` asks for one.
 */
const props = defineProps<{
  id?: string
  options: readonly (NonNullable<M> | { value: NonNullable<M>; words: string; off?: boolean })[]
  nothing?: string
  none?: M
  placeholder?: string
  label?: string
  disabled?: boolean
  invalid?: boolean
}>()
const MANY = 9
const NARROWEST = 8
const WIDEST = 44
const NONE = ''
const value = defineModel<M>({ required: true })
const none = computed(() => (props.none ?? null) as M)
const chosen = computed({
  get: () => (props.nothing !== undefined && value.value === none.value ? NONE : value.value),
  set: (now) => (value.value = now === NONE ? none.value : now),
})
const given = computed(() =>
  props.options.map((one) =>
    typeof one === 'object' ? one : { value: one, words: String(one), off: false },
  ),
)
const all = computed(() => [
  ...(props.nothing === undefined ? [] : [{ value: NONE, words: props.nothing, off: false }]),
  ...given.value,
])
// As wide as its longest words, within bounds.
const chars = computed(() => {
  const longest = [props.placeholder ?? '', ...all.value.map((one) => one.words)].map((words) => words.length)
  return Math.min(WIDEST, Math.max(NARROWEST, ...longest))
})
</script>

<template>
  <el-select
    :id="id"
    v-model="chosen"
    :empty-values="nothing === undefined ? ['', null, undefined] : [undefined]"
    :placeholder="placeholder ?? 'choose'"
    :style="`--chars: ${chars}`"
    :filterable="options.length > MANY"
    :disabled="disabled"
    :aria-label="label"
    :aria-invalid="invalid"
  >
    <el-option
      v-for="one in all"
      :key="String(one.value)"
      :label="one.words"
      :value="one.value as NonNullable<M>"
      :disabled="one.off"
    />
  </el-select>
</template>
