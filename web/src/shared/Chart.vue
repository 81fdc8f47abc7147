<script setup lang="ts">
import type { ECharts, EChartsCoreOption } from 'echarts/core'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { drawing, type Picture } from './picture'

/** A picture from one specification: drawn, as a table one key away, and saved as PNG, SVG or CSV. */
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

function save(kind: 'png' | 'svg' | 'csv') {
  const name = props.picture.title.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')
  const link = document.createElement('a')
  link.download = `${name}.${kind}`
  if (kind === 'csv') {
    // A cell that begins like a formula is written as text.
    const cell = (text: string) => `"${/^[=+@]/.test(text) ? `'${text}` : text.replaceAll('"', '""')}"`
    const lines = [props.picture.columns, ...props.picture.rows].map((row) =>
      row.map((one) => cell(String(one ?? ''))),
    )
    link.href = URL.createObjectURL(
      new Blob([lines.map((line) => line.join(',')).join('\r\n')], { type: 'text/csv' }),
    )
  } else if (kind === 'svg') {
    const text = chart?.renderToSVGString() ?? ''
    link.href = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }))
  } else {
    link.href = chart?.getDataURL({ type: 'png', pixelRatio: 2 }) ?? ''
    if (link.href.startsWith('data:image/svg')) return void paint(link)
  }
  link.click()
}

/** The picture is drawn as SVG; a PNG is painted from it. */
function paint(link: HTMLAnchorElement) {
  const image = new Image()
  image.onload = () => {
    const canvas = document.createElement('canvas')
    canvas.width = image.width * 2
    canvas.height = image.height * 2
    canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
    link.href = canvas.toDataURL('image/png')
    link.click()
  }
  image.src = link.href
}

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
  <figure tabindex="0" @keydown.t="table = !table">
    <figcaption class="spread">
      <h2>
        {{ picture.title }}<template v-if="picture.kind !== 'field'">, {{ picture.unit }}</template>
      </h2>
      <span class="tools">
        <el-button link type="primary" @click="table = !table">{{ table ? 'Picture' : 'Table' }}</el-button>
        <el-button
          v-for="kind in ['png', 'svg', 'csv'] as const"
          :key="kind"
          link
          type="primary"
          @click="save(kind)"
          >{{ kind.toUpperCase() }}
        </el-button>
      </span>
    </figcaption>
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
