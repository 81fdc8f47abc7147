<script setup lang="ts">
import { later } from './later'

/** A wall time, kept as 18:00; its zone stands beside it. */
const props = defineProps<{ id?: string; label?: string; disabled?: boolean; invalid?: boolean }>()
const time = defineModel<string | null>({ required: true })
const TimePicker = later(() => import('./TimePicker.vue'))
</script>

<template>
  <TimePicker v-bind="props" v-model="time" />
</template>
