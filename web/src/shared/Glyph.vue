<script setup lang="ts">
import { computed } from 'vue'

/** States by shape and word first; colour comes third. All drawn from tally strokes. */
const props = defineProps<{ state: string; bare?: boolean; word?: string }>()

const five = 'M3 3v10M6 3v10M9 3v10M12 3v10M1 11.500L14.500 4.500'
const shapes: Record<string, { path: string; tone: string }> = {
  waiting: { path: 'M8 3v10', tone: 'care' },
  running: { path: 'M3 10v3M8 7v6M13 3v10', tone: 'ink' },
  held: { path: 'M6 3v10M10 3v10M2 8h12', tone: 'care' },
  done: { path: five, tone: 'ink-2' },
  failed: { path: 'M3 3l10 10M13 3L3 13', tone: 'bad' },
  cancelled: { path: 'M2 8h12', tone: 'ink-2' },
  lapsed: { path: 'M8 2v3M8 7v2.500M8 11.500v2.500', tone: 'ink-2' },
  lost: { path: 'M8 2v4M5 8h6M8 10v4', tone: 'bad' },
  stalled: { path: 'M4 3h8M4 13h8M5 3l3 5l3 -5M5 13l3 -5l3 5', tone: 'care' },
  silent: { path: 'M8 2v4M5 8h6M8 10v4', tone: 'bad' },
  heard: { path: 'M3 8.500l3.500 3.500L13 4', tone: 'act' },
  met: { path: 'M3 8.500l3.500 3.500L13 4', tone: 'act' },
  unmet: { path: 'M4 4l8 8M12 4l-8 8', tone: 'care' },
  draft: { path: 'M3 13h10', tone: 'ink-2' },
  noted: { path: 'M3 3v10', tone: 'ink' },
  screened: { path: 'M3 3v10M6.500 3v10', tone: 'ink' },
  sized: { path: 'M3 3v10M6.500 3v10M10 3v10', tone: 'ink' },
  backed: { path: 'M3 3v10M6 3v10M9 3v10M12 3v10', tone: 'ink' },
  building: { path: 'M3 3v10M6 3v10M9 3v10M12 3v10M2 13.500h12', tone: 'ink' },
  'in service': { path: five, tone: 'act' },
  retired: { path: `${five}M1 14.500h14`, tone: 'ink-2' },
  parked: { path: 'M5 3v10M11 3v10', tone: 'ink-2' },
  merged: { path: 'M3 3l5 5M13 3L8 8v5', tone: 'ink-2' },
  declined: { path: 'M3 3l10 10M13 3L3 13', tone: 'ink-2' },
  withdrawn: { path: 'M2 8h12', tone: 'ink-2' },
}
const shape = computed(() => shapes[props.state] ?? { path: 'M8 3v10', tone: 'ink-2' })
</script>

<template>
  <span class="glyph" :class="shape.tone">
    <svg viewBox="0 0 16 16" width="14" height="14" aria-hidden="true"><path :d="shape.path" /></svg>
    <span :class="{ hidden: bare }">{{ word ?? state }}</span>
  </span>
</template>

<style scoped>
.glyph {
  display: inline-flex;
  gap: 7px;
  align-items: baseline;
  white-space: nowrap;
}
svg {
  flex: none;
  align-self: center;
}
path {
  stroke: currentColor;
  stroke-width: 1.8;
  fill: none;
}
.hidden {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
.ink {
  color: var(--ink);
  font-weight: 600;
}
.ink-2 {
  color: var(--ink-2);
}
.care {
  color: var(--care);
  font-weight: 600;
}
.bad {
  color: var(--bad);
  font-weight: 600;
}
.act {
  color: var(--act);
}
</style>
