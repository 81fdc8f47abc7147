<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { number, writtenAs } from '@/shared/format'
import NumberField from '@/shared/NumberField.vue'
import type { FactSheet } from './factSheet'

/** How the year goes: twelve bars, drawn by dragging or typed; only their heights to each other count. */
const props = defineProps<{ sheet: FactSheet; months: string[] | null }>()
const value = computed(() => (props.sheet.value('peaks') || null) as string[] | null)
const fault = computed(() => props.sheet.fault('peaks'))
const disabled = computed(() => props.sheet.locked.value)
const keep = (now: string[] | null) => props.sheet.keep('peaks', now)
const HIGH = 96
const twelve = ref<HTMLElement | null>(null)
const dragging = ref<number | null>(null)
const even = (): string[] => Array.from({ length: 12 }, () => '1')
const bars = ref<string[]>(value.value ?? even())
watch(
  () => JSON.stringify(value.value),
  () => {
    // What is being typed or drawn is not overwritten by what was kept a moment ago.
    if (dragging.value !== null || twelve.value?.contains(document.activeElement)) return
    bars.value = value.value ?? even()
  },
)
const most = computed(() => Math.max(2, ...bars.value.map((one) => Number(one) || 0)))
const names = computed(() => {
  const format = new Intl.DateTimeFormat(writtenAs(), { month: 'short', timeZone: 'UTC' })
  return Array.from({ length: 12 }, (_, n) => format.format(new Date(Date.UTC(2026, n, 1))))
})
const top = ref(2)
function height(event: PointerEvent) {
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const share = 1 - (event.clientY - box.top) / box.height
  return String(Math.round(Math.max(0, Math.min(1, share)) * top.value * 10) / 10)
}
function begin(event: PointerEvent) {
  if (disabled.value) return
  const svg = event.currentTarget as SVGElement
  const box = svg.getBoundingClientRect()
  const n = Math.floor(((event.clientX - box.left) / box.width) * 12)
  if (n < 0 || n > 11) return
  // The scale stands still while a bar is drawn.
  top.value = most.value
  dragging.value = n
  svg.setPointerCapture(event.pointerId)
  draw(event)
}
function draw(event: PointerEvent) {
  if (dragging.value === null) return
  bars.value = bars.value.map((one, n) => (n === dragging.value ? height(event) : one))
}
function end() {
  if (dragging.value === null) return
  dragging.value = null
  void keep(bars.value)
}
function typed(n: number, text: string) {
  bars.value = bars.value.map((one, m) => (m === n ? text || '0' : one))
  void keep(bars.value)
}
const high = (one: string): number =>
  ((Number(one) || 0) / (dragging.value === null ? most.value : top.value)) * HIGH
</script>

<template>
  <div class="stack tight" data-field="peaks">
    <svg
      class="bars"
      :viewBox="`0 0 480 ${HIGH}`"
      role="img"
      aria-label="How the year goes, by month; type below to change it"
      preserveAspectRatio="none"
      @pointerdown="begin"
      @pointermove="draw"
      @pointerup="end"
      @pointercancel="end"
    >
      <rect
        v-for="(one, n) in bars"
        :key="n"
        :x="n * 40 + 5"
        :y="HIGH - high(one)"
        width="30"
        :height="high(one)"
      />
    </svg>
    <div ref="twelve" class="twelve">
      <label v-for="(one, n) in bars" :key="n">
        <span class="quiet">{{ names[n] }}</span>
        <NumberField
          :model-value="one"
          :disabled="disabled"
          :label="`Height of ${names[n]}`"
          :chars="4"
          @keep="(now: string) => typed(n, now)"
        />
        <span class="quiet items">{{ months ? number(months[n]) : '' }}</span>
      </label>
    </div>
    <p class="quiet" :class="{ bad: fault }">
      {{
        fault ??
        'Below each month its items. Only the heights to each other count: the volume of the year stays.'
      }}
      <el-button v-if="value && !disabled" link type="primary" @click="keep(null)">
        Every month alike
      </el-button>
    </p>
  </div>
</template>

<style scoped>
.bars {
  width: 100%;
  height: 96px;
  border-bottom: 1px solid var(--ink);
  touch-action: none;
  cursor: ns-resize;
}
.bars rect {
  fill: var(--act-soft);
  stroke: var(--act);
}
.twelve {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(58px, 1fr));
  gap: 4px;
}
.items {
  font-variant-numeric: tabular-nums;
  min-height: 16px;
}
.twelve label {
  display: grid;
  text-align: center;
}
</style>
