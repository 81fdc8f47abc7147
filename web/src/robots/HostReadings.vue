<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import Chart from '@/shared/Chart.vue'
import Choice from '@/shared/Choice.vue'
import Field from '@/shared/Field.vue'
import type { Picture } from '@/shared/picture'
import HostSitting from './HostSitting.vue'

/** How a host was in the last week: its processor, memory, disk and clock. */
const props = defineProps<{ readings: Schemas['ReadingRow'][] }>()
const MB_IN_GB = 1024
const HOUR = 3_600_000
const gigabytes = (mb: number | null) => (mb === null ? null : Math.round((mb / MB_IN_GB) * 10) / 10)
const WHAT = {
  processor: {
    title: 'Processor in use',
    unit: '%',
    of: (row: Row) => (row.cpu_percent === null ? null : Number(row.cpu_percent)),
  },
  memory: { title: 'Memory free', unit: 'GB', of: (row: Row) => gigabytes(row.memory_free_mb) },
  disk: { title: 'Disk free', unit: 'GB', of: (row: Row) => gigabytes(row.disk_free_mb) },
  clock: {
    title: 'Clock ahead of the server',
    unit: 's',
    of: (row: Row) => (row.clock_ahead_ms === null ? null : row.clock_ahead_ms / 1000),
  },
} as const
type Row = Schemas['ReadingRow']
const what = ref<keyof typeof WHAT>('processor')
const choices = Object.keys(WHAT) as (keyof typeof WHAT)[]
const picture = computed<Picture>(() => {
  const shown = WHAT[what.value]
  const last = new Date(props.readings.at(-1)!.at).getTime()
  return {
    title: shown.title,
    kind: 'line',
    unit: shown.unit,
    xUnit: 'hours before the last reading',
    columns: ['Hours', shown.title],
    rows: props.readings.map((row) => [
      Math.round(((new Date(row.at).getTime() - last) / HOUR) * 100) / 100,
      shown.of(row),
    ]),
  }
})
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>In the last week</h2>
      <Field v-slot="{ id }" label="Shown"><Choice :id="id" v-model="what" :options="choices" /></Field>
    </div>
    <Chart :picture="picture" :height="200" />
    <HostSitting :readings="readings" />
  </section>
</template>
