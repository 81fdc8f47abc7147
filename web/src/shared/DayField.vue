<script setup lang="ts">
import { later } from './later'

/** A day, written as its reader writes days; kept as 2026-10-02, empty when there is none. */
const props = defineProps<{
  id?: string
  min?: string
  max?: string
  label?: string
  disabled?: boolean
  invalid?: boolean
  /** With the time of day: kept as 2026-10-02T18:00. */
  timed?: boolean
  /** A month only: kept as 2026-10. */
  month?: boolean
}>()
const day = defineModel<string | null>({ required: true })
const DayPicker = later(() => import('./DayPicker.vue'))
</script>

<template>
  <DayPicker v-bind="props" v-model="day" />
</template>
