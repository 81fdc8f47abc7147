<script setup lang="ts">
import type { ECharts, EChartsCoreOption } from 'echarts/core'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useAction } from './action'
import { fileName, give, painted, tableFile } from './download'
import { drawing, type Picture } from './picture'
import Problem from './Problem.vue'

/** A picture from one specification: drawn, as a table one key away, and saved as PNG, SVG, CSV or a workbook. */
const props = defineProps<{ picture: Picture; height?: number }>()
const place = ref<HTMLElement | null>(null)
const table = ref(false)
let chart: ECharts | undefined
let watcher: ResizeObserver | undefined
// Light and dark have colours of their own; a picture that stands is drawn anew in them.
const theme = new MutationObserver(() => void draw())

async function draw() {
  const { start } = await import('./echarts')
  if (!place.value) return
  chart ??= start(place.value)
  const option: EChartsCoreOption = drawing(props.picture, getComputedStyle(document.documentElement))
  chart.setOption(option, true)
}

const ENDINGS = ['png', 'svg', 'csv', 'xlsx'] as const
const save = useAction(async (kind: (typeof ENDINGS)[number]) => {
  const name = fileName(props.picture.title, kind)
  if (kind === 'csv' || kind === 'xlsx') return tableFile(props.picture, kind)
  if (kind === 'svg')
    return give(name, new Blob([chart?.renderToSVGString() ?? ''], { type: 'image/svg+xml' }))
  const url = chart?.getDataURL({ type: 'png', pixelRatio: 2 }) ?? ''
  give(name, url.startsWith('data:image/svg') ? await painted(url) : url)
}, [])

onMounted(() => {
  void draw()
  watcher = new ResizeObserver(() => chart?.resize())
  if (place.value) watcher.observe(place.value)
  theme.observe(document.documentElement, { attributeFilter: ['data-theme'] })
})
watch(
  () => props.picture,
  () => void draw(),
)
onBeforeUnmount(() => {
  watcher?.disconnect()
  theme.disconnect()
  chart?.dispose()
})
</script>

<template>
  <figure tabindex="0" @keydown.t.stop="table = !table">
    <figcaption class="spread">
      <h2>
        {{ picture.title }}<template v-if="picture.kind !== 'field'">, {{ picture.unit }}</template>
      </h2>
      <span class="tools">
        <el-button link type="primary" @click="table = !table">{{ table ? 'Picture' : 'Table' }}</el-button>
        <el-button
          v-for="kind in ENDINGS"
          :key="kind"
          link
          type="primary"
          :disabled="save.busy.value"
          @click="save.go(kind)"
          >{{ kind.toUpperCase() }}
        </el-button>
      </span>
    </figcaption>
    <Problem :error="save.error.value" />
    <div
      v-show="!table"
      ref="place"
      :style="{ height: `${height ?? 240}px` }"
      role="img"
      :aria-label="picture.title"
    ></div>
    <table v-if="table" class="ledger">
      <thead>
        <tr>
          <th v-for="(column, n) in picture.columns" :key="column" :class="{ num: n > 0 }">{{ column }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, n) in picture.rows" :key="n">
          <td v-for="(value, m) in row" :key="m" :class="{ num: m > 0 }">{{ value ?? '–' }}</td>
        </tr>
      </tbody>
    </table>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
.tools {
  display: flex;
  gap: 12px;
}
.tools button {
  font-weight: 400;
  font-size: 12.5px;
}
</style>
