<script setup lang="ts">
import type { DayOf } from './days'
import { later } from './later'

/** A day, written as its reader writes days; kept as 2026-10-02, empty when there is none. */
const props = defineProps<DayOf>()
const day = defineModel<string | null>({ required: true })
const DayPicker = later(() => import('./DayPicker.vue'))
</script>

<template>
  <DayPicker v-bind="props" v-model="day" />
</template>
