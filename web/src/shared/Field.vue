<script setup lang="ts">
import { useId } from 'vue'

/** A field with its label above, help and fault below. */
defineProps<{ label: string; help?: string; fault?: string }>()
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <slot :id="id" :invalid="fault !== undefined" :describedby="`${id}-note`" />
    <p :id="`${id}-note`" class="quiet" :class="{ bad: fault }" :role="fault ? 'alert' : undefined">
      {{ fault ?? help }}
    </p>
  </div>
</template>

<style scoped>
.field {
  display: grid;
  grid-template-columns: minmax(0, auto);
  gap: 3px;
  align-content: start;
}
label {
  font-size: 13px;
  color: var(--ink-2);
}
</style>
