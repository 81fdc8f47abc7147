<script setup lang="ts">
import type { FactSheet } from './factSheet'

/** Whether the facts of a sheet are kept, and who may change them where the reader may not. */
defineProps<{ sheet: FactSheet; reads: string }>()
</script>

<template>
  <p class="quiet" role="status">
    {{
      sheet.busy.value
        ? 'Keeping …'
        : sheet.locked.value
          ? reads
          : 'Each fact is kept when you leave its field.'
    }}
    <slot />
  </p>
</template>
