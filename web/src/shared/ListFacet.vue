<script setup lang="ts" generic="R">
import Choice from './Choice.vue'
import type { List } from './useList'

/** One facet of a list: a filter of its address, chosen among its values. */
const props = defineProps<{
  list: List<R>
  name: string
  label: string
  nothing: string
  options: readonly { value: string; words: string }[]
}>()
const { wanted, set } = props.list
</script>

<template>
  <Choice
    :model-value="String(wanted[name] ?? '') || null"
    :label="label"
    :nothing="nothing"
    :options="options"
    @update:model-value="(now) => set({ [name]: now ?? undefined })"
  />
</template>
