<script setup lang="ts">
import Conflict from '@/shared/Conflict.vue'
import Problem from '@/shared/Problem.vue'
import type { FactSheet } from './factSheet'

/** What stands in the way of a sheet's facts: both texts where two kept one, or why none could be kept. */
defineProps<{ sheet: FactSheet }>()
</script>

<template>
  <Conflict
    v-if="sheet.clash.value"
    :said="sheet.clash.value.message"
    :rows="sheet.rows.value"
    :names="sheet.names.value"
    @settle="sheet.settle"
  />
  <Problem :error="sheet.error.value" />
</template>
