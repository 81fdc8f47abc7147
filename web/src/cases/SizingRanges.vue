<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import Chart from '@/shared/Chart.vue'
import { dayText, money, number, share } from '@/shared/format'
import type { Picture } from '@/shared/picture'
import Moves from '@/shared/Moves.vue'

/** A sizing as ranges: hours and net sampled beside the figure at the likely values, and what moves them. */
const props = defineProps<{ ranges: Schemas['RangesOut']; currency: string }>()
type Sampled = Schemas['SampledOut']
const WHICH = [
  { value: 'hours', label: 'Hours' },
  { value: 'net', label: 'Net' },
]
const which = ref<'hours' | 'net'>('hours')
const shown = computed<Sampled | null>(() => props.ranges[which.value])
const unit = computed(() => (which.value === 'hours' ? 'h a year' : `${props.currency} a year`))
const write = (value: string | null): string =>
  which.value === 'hours' ? `${number(value)} h` : money(value, props.currency)
const picture = computed<Picture | null>(() => {
  const now = shown.value
  if (!now?.shape.length) return null
  return {
    title: which.value === 'hours' ? 'Hours a year that robots take over' : 'Net a year',
    columns: [unit.value, 'share of draws, %'],
    rows: now.shape.map((bar) => [number(bar.start), Number(bar.share) * 100]),
    kind: 'bars',
    unit: '% of draws',
    xUnit: unit.value,
  }
})
const months = (value: string | null): string =>
  value === null ? 'not within 60 months' : `${number(value, 1)} months`
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>As a range</h2>
      <el-segmented v-if="ranges.net" v-model="which" :options="WHICH" aria-label="Range of" />
    </div>
    <p v-if="!shown" class="quiet">
      The range appears once volume, minutes, share and effort are known; ends beside them make it wider than
      one figure.
    </p>
    <template v-else>
      <table class="ledger">
        <thead>
          <tr>
            <th>{{ unit }}</th>
            <th class="num">At the likely values</th>
            <th class="num">Nine of ten are above</th>
            <th class="num">Sampled middle</th>
            <th class="num">One of ten is above</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>{{ which === 'hours' ? 'Hours that robots take over' : 'Saving less running cost' }}</td>
            <td class="num">
              <b>{{ write(shown.likely) }}</b>
            </td>
            <td class="num">{{ write(shown.p10) }}</td>
            <td class="num">{{ write(shown.p50) }}</td>
            <td class="num">{{ write(shown.p90) }}</td>
          </tr>
          <tr v-if="which === 'net' && ranges.payback">
            <td>Payback from the start</td>
            <td class="num">
              <b>{{ months(ranges.payback.likely) }}</b>
            </td>
            <td class="num">{{ months(ranges.payback.p10) }}</td>
            <td class="num">{{ months(ranges.payback.p50) }}</td>
            <td class="num">{{ months(ranges.payback.p90) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="which === 'net' && ranges.chances.length">
        It pays back
        <template v-for="(one, n) in ranges.chances" :key="one.months"
          >{{ n ? ', ' : '' }}within {{ one.months }} months in <b>{{ share(one.share) }}</b></template
        >
        of the draws.
      </p>
      <p v-if="which === 'hours' && ranges.equivalents">
        The hours that people have back are <b>{{ number(ranges.equivalents, 2) }} full-time equivalents</b>
        <span class="quiet">
          at {{ number(ranges.people_hours?.value) }} h a person and year, since
          {{ dayText(ranges.people_hours?.since ?? '') }}</span
        >
      </p>
      <p v-else-if="which === 'hours' && !ranges.people_hours" class="quiet">
        Full-time equivalents need what a person works a year:
        <router-link to="/value/rates">propose the rate</router-link>.
      </p>
      <div v-if="picture" class="two">
        <Chart :key="which" :picture="picture" :height="230" />
        <Moves :moves="shown.moves" :likely="shown.likely" :write="write" :unit="unit" />
      </div>
      <p v-else class="quiet">
        All inputs say one value, so there is nothing to draw; give the least and the most of what is not
        sure.
      </p>
      <p class="quiet">
        {{ number(ranges.draws) }} draws of volume, minutes, share and effort, each between its least and most
        with the usual in view, always the same for this idea (seed {{ ranges.seed }}).
      </p>
    </template>
  </section>
</template>
