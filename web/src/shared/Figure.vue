<script setup lang="ts">
import { computed } from 'vue'
import type { Working } from '@/api/client'
import { useOffer, useSelected } from './workings'

/** A figure that opens its working in the margin. */
const props = defineProps<{
  name: string
  text: string
  working?: Working | null
  label?: string
  large?: boolean
}>()
const { key, select } = useSelected()
useOffer(
  () => props.name,
  () => props.working,
)
const on = computed(() => key.value === props.name)
</script>

<template>
  <span class="figure" :class="{ large }">
    <span v-if="label" class="quiet label">{{ label }}</span>
    <button
      v-if="working"
      type="button"
      class="value"
      :class="{ on }"
      :aria-pressed="on"
      :title="on ? 'Put the working away' : 'Show the working'"
      @click.stop="select(name)"
    >
      {{ text }}
    </button>
    <span v-else class="value bare">{{ text }}</span>
    <span v-if="$slots.default" class="quiet under"><slot /></span>
  </span>
</template>

<style scoped>
.figure {
  display: inline-block;
}
.label,
.under {
  display: block;
}
.under {
  margin-top: 3px;
}
.value {
  font: inherit;
  font-variant-numeric: tabular-nums lining-nums;
  color: inherit;
  padding: 0;
  border: 0;
  border-bottom: 1px dotted var(--ink-2);
  background: none;
}
.value.bare {
  border-bottom: 0;
}
.value:hover {
  background: var(--act-soft);
}
.value.on {
  border-bottom: 2px solid var(--act);
}
.large > .value {
  font: 600 25px/30px var(--title-face);
  font-variant-numeric: lining-nums;
}
@media (max-width: 700px) {
  .value {
    min-height: 40px;
  }
}
</style>
