<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Chart from '@/shared/Chart.vue'
import { monthText } from '@/shared/format'
import { releaseMarks, type Picture } from '@/shared/picture'
import { useMe } from '@/shared/session'
import { wallOf } from '@/shared/wall'

/** Delivered and promised by month, with a mark where the routine that counts took another release. */
const props = defineProps<{
  months: readonly Pick<Schemas['IdeaMonth'], 'month' | 'saved' | 'promised'>[]
  routine: number | null
  unit: string
}>()
const { may, zone } = useMe()
// Since when the routine that counts has had which release: it may be seen by fewer than the tally.
const over = useQuery({
  queryKey: ['routines', 'over-time', () => props.routine],
  enabled: () => may('routine.see') && props.routine !== null,
  retry: false,
  queryFn: () =>
    ask(
      api.GET('/api/v1/routines/{number}/over-time', {
        params: { path: { number: props.routine ?? 0 } },
      }),
    ),
})
const picture = computed<Picture>(() => ({
  title: 'Delivered and promised by month',
  kind: 'bars',
  unit: props.unit,
  columns: ['Month', 'Delivered', 'Promised'],
  rows: props.months.map((row) => [monthText(row.month), Number(row.saved), Number(row.promised)]),
  marks: releaseMarks(over.data.value?.releases ?? [], (since) =>
    props.months.findIndex((row) => row.month === wallOf(since, zone.value).slice(0, 7)),
  ),
}))
</script>

<template>
  <Chart :picture="picture" :height="180" />
</template>
