<script setup lang="ts">
import type { Schemas } from '@/api/client'
import HostSeats from './HostSeats.vue'

/** The seats of a host: those for work, and those that only trial runs take. */
defineProps<{ host: Schemas['Host'] }>()
const emit = defineEmits<{ leave: [] }>()
</script>

<template>
  <div class="two">
    <HostSeats :host="host" kind="unattended" :number="host.seats" @leave="emit('leave')" />
    <HostSeats :host="host" kind="trial" :number="host.trial_seats" @leave="emit('leave')" />
  </div>
</template>
