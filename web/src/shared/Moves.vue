<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** What moves a figure most: from one end of each input to the other, the rest as likely. */
const props = defineProps<{
  moves: Schemas['MovedOut'][]
  likely: string | null
  write: (value: string | null) => string
  unit: string
}>()
const ends = computed(() => {
  const all = props.moves.flatMap((one) => [Number(one.at_low), Number(one.at_high)])
  all.push(Number(props.likely ?? 0))
  return { low: Math.min(...all), high: Math.max(...all) }
})
const WIDE = 190
function at(value: string | null): number {
  const { low, high } = ends.value
  return high === low ? WIDE / 2 : ((Number(value ?? 0) - low) / (high - low)) * WIDE
}
const left = (one: Schemas['MovedOut']): number => Math.min(at(one.at_low), at(one.at_high))
const width = (one: Schemas['MovedOut']): number => Math.max(1, Math.abs(at(one.at_high) - at(one.at_low)))
</script>

<template>
  <div class="stack tight">
    <h3>What moves it most, {{ unit }}</h3>
    <table class="ledger">
      <tbody>
        <tr v-for="one in moves" :key="one.name">
          <td>
            {{ one.name }}
            <div class="quiet">{{ write(one.at_low) }} to {{ write(one.at_high) }}</div>
          </td>
          <td class="num">
            <svg :width="WIDE" height="22" :viewBox="`0 0 ${WIDE} 22`" aria-hidden="true">
              <rect :x="left(one)" y="5" :width="width(one)" height="12" />
              <path :d="`M${at(likely)} 0v22`" />
            </svg>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">The line marks the likely values.</p>
  </div>
</template>

<style scoped>
rect {
  fill: var(--act-soft);
  stroke: var(--act);
}
path {
  stroke: var(--rule);
  stroke-width: 2;
  fill: none;
}
svg {
  overflow: visible;
}
</style>
