<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { BOX, drawn, kindSaid, short, usesOf } from './drawing'

/** What something stands on and what hangs on it, drawn from left to right; each box leads on to its own. */
const props = defineProps<{ uses: Schemas['Uses'] }>()
const drawing = computed(() => drawn(props.uses))
const bend = (from: number[], to: number[]) =>
  `M${from[0]} ${from[1]} C${from[0]! + BOX.apart / 2} ${from[1]}, ${to[0]! - BOX.apart / 2} ${to[1]}, ${to[0]} ${to[1]}`
</script>

<template>
  <div
    class="scrolls"
    tabindex="0"
    role="group"
    aria-label="Drawing: what it stands on is on its left, what hangs on it on its right"
  >
    <div class="drawing" :style="{ width: `${drawing.width}px`, height: `${drawing.height}px` }">
      <svg :width="drawing.width" :height="drawing.height" aria-hidden="true">
        <path v-for="(line, n) in drawing.lines" :key="n" :d="bend(line.from, line.to)" />
      </svg>
      <template v-for="(box, n) in drawing.boxes" :key="n">
        <component
          :is="box.thing ? 'router-link' : 'span'"
          class="box"
          :class="{ own: box.own, more: !box.thing }"
          :to="box.thing ? (box.own ? box.thing.link : usesOf(box.thing) || box.thing.link) : undefined"
          :style="{
            left: `${box.left}px`,
            top: `${box.top}px`,
            width: `${BOX.width}px`,
            height: `${BOX.height}px`,
          }"
        >
          <template v-if="box.thing">
            <span class="kind">{{ kindSaid(box.thing.kind) }}</span>
            <span>{{ short(box.thing.name) }}</span>
          </template>
          <template v-else>{{ box.more }} more, in the list below</template>
        </component>
      </template>
    </div>
  </div>
</template>

<style scoped>
.scrolls {
  overflow-x: auto;
  padding: 4px;
}
.drawing {
  position: relative;
}
svg {
  position: absolute;
  inset: 0;
}
path {
  fill: none;
  stroke: var(--hair-2);
  stroke-width: 1.5;
}
.box {
  position: absolute;
  box-sizing: border-box;
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding: 2px 10px;
  border: 1px solid var(--hair-2);
  background: var(--sheet);
  color: var(--ink);
  text-decoration: none;
  font-size: 13px;
  line-height: 1.25;
}
.box.own {
  border: 2px solid var(--ink);
  padding: 1px 9px;
  font-weight: 600;
}
.box.more {
  border-style: dashed;
  color: var(--ink-2);
}
a.box:hover {
  background: var(--act-soft);
}
.kind {
  font-size: 12px;
  font-weight: 400;
  color: var(--ink-2);
}
</style>
