<script setup lang="ts">
import { computed } from 'vue'

/** A small drawing beside a question: pen strokes that say what is asked for. */
const props = defineProps<{ question: string }>()
const DRAWINGS: Record<string, string> = {
  // A card with a name on its first line.
  title: 'M14 20h68v44H14zM22 34h38M22 44h24M22 52h30',
  // Something comes in, is worked on, and goes out.
  what: 'M6 42h18M18 36l6 6-6 6M30 26h36v32H30zM38 36h20M38 44h14M72 42h18M84 36l6 6-6 6',
  // A pile that grows.
  volume: 'M16 64h64M22 58h24v6M22 52h24v6M22 46h24v6M54 58h22v6M54 52h22v6M54 46h22v6M54 40h22v6M54 34h22v6',
  // A clock face.
  minutes: 'M48 20a22 22 0 1 0 .1 0M48 30v12l9 6M48 20v4M48 60v4M26 42h4M66 42h4',
  // A fork in the road where somebody stops.
  judge: 'M10 42h30l18-16h28M40 42l18 16h28M40 30v24M34 24a6 6 0 1 1 12 0 6 6 0 0 1-12 0',
  // A line of steps, one leaves it.
  off: 'M8 36h22v10H8zM38 36h22v10H38zM68 36h20v10H68zM30 41h8M60 41h8M49 46v16h26M69 57l6 5-6 5',
  // A letter, a table, a page.
  arrives:
    'M6 30h26v20H6zM6 30l13 11 13-11M38 26h22v28H38zM38 35h22M38 44h22M49 26v28M66 22h16l8 8v32H66zM82 22v8h8M71 42h14M71 50h14',
  // The same page twice, the second with other lines.
  changed:
    'M12 22h26v40H12zM18 32h14M18 40h14M18 48h14M44 42h10M50 37l5 5-5 5M60 22h26v40H60zM66 32h8M66 40h14M66 48h5',
  // A calendar leaf that turns.
  announced: 'M20 24h56v40H20zM20 34h56M32 20v8M64 20v8M60 64c0-10 6-16 16-16M42 44h12v10H42z',
  // A tree of boxes.
  division:
    'M38 16h20v12H38zM48 28v10M18 38h60M18 38v8M48 38v8M78 38v8M8 46h20v12H8zM38 46h20v12H38zM68 46h20v12H68z',
  // A person with a key to the work.
  owner:
    'M34 30a9 9 0 1 1 18 0 9 9 0 0 1-18 0M26 64c0-14 6-20 17-20s17 6 17 20M66 36a6 6 0 1 1 6 6v16M72 52h6M72 58h5',
  // Two people who talk.
  knows:
    'M18 32a8 8 0 1 1 16 0 8 8 0 0 1-16 0M10 64c0-12 6-18 16-18s16 6 16 18M62 32a8 8 0 1 1 16 0 8 8 0 0 1-16 0M54 64c0-12 6-18 16-18s16 6 16 18M40 22h16v10l-5-4H40z',
  // A page put onto another.
  files: 'M22 26h28l8 8v32H22zM50 26v8h8M30 18h28l8 8v32M36 44h14M36 52h14',
}
const path = computed(() => DRAWINGS[props.question] ?? 'M20 24h56v40H20zM30 36h36M30 44h28M30 52h20')
</script>

<template>
  <svg class="drawing" viewBox="0 0 96 80" width="96" height="80" aria-hidden="true">
    <path :d="path" />
  </svg>
</template>

<style scoped>
.drawing {
  flex: none;
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 1.4;
  stroke-linecap: round;
  stroke-linejoin: round;
}
</style>
