<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import { OFF_THE_WAY } from '@/api/words'
import { several } from '@/shared/format'

/** The way of ideas, stage by stage: how many stand there, how long, and where they get stuck. */
const query = useQuery({ queryKey: ['ideas', 'map'], queryFn: () => ask(api.GET('/api/v1/ideas/map')) })
type Stage = Schemas['StageOnMap']
const rows = computed(() => query.data.value?.stages ?? [])
const way = computed(() => rows.value.filter((row) => !OFF_THE_WAY.includes(row.stage)))
const off = computed(() => rows.value.filter((row) => OFF_THE_WAY.includes(row.stage) && row.ideas))
const most = computed(() => Math.max(1, ...way.value.map((row) => row.ideas)))
const days = (value: number | null): string => (value === null ? '–' : several(value, 'day', 'days'))
// Tally strokes: fives, each crossed, and what is left over; many are drawn by tens.
const step = computed(() => (most.value > 120 ? 10 : 1))
function strokes(row: Stage): { path: string; width: number } {
  const count = Math.ceil(row.ideas / step.value)
  let path = ''
  for (let n = 0; n < count; n += 1) {
    const at = 4 + Math.floor(n / 5) * 22 + (n % 5) * 4
    path += n % 5 === 4 ? `M${at - 19} 15L${at - 1} 3` : `M${at} 3v12`
  }
  return { path, width: 8 + Math.ceil(count / 5) * 22 }
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.some((row) => row.ideas)">
    <template #empty>
      Nothing was handed in yet. <router-link to="/ideas/new">Hand in the first idea.</router-link>
    </template>
    <div class="stack">
      <p>
        <b>{{ query.data.value?.words }}</b>
      </p>
      <table class="ledger">
        <thead>
          <tr>
            <th style="width: 118px">Stage</th>
            <th>Ideas that stand there{{ step > 1 ? `, a stroke for ${step}` : '' }}</th>
            <th class="num">Age there, usual</th>
            <th class="num">Oldest</th>
            <th class="num">Past the limit</th>
            <th class="num">Came · left, {{ query.data.value?.days }} days</th>
            <th class="num">Stayed, usual</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in way" :key="row.stage">
            <td><Glyph :state="row.stage" /></td>
            <td>
              <router-link
                :to="{ query: { stage: row.stage } }"
                class="count"
                :aria-label="`${row.ideas} ${row.stage}`"
              >
                <b>{{ row.ideas }}</b>
                <svg
                  v-if="row.ideas"
                  :viewBox="`0 0 ${strokes(row).width} 18`"
                  :width="strokes(row).width"
                  height="18"
                  aria-hidden="true"
                >
                  <path :d="strokes(row).path" />
                </svg>
              </router-link>
            </td>
            <td class="num">{{ days(row.median_age) }}</td>
            <td class="num">
              <router-link v-if="row.oldest_id" :to="`/ideas/${row.oldest_id}`">{{
                days(row.oldest_age)
              }}</router-link>
              <template v-else>–</template>
            </td>
            <td class="num">
              <router-link
                v-if="row.late"
                class="bad"
                :to="{ query: { stage: row.stage, late: '1', sort: 'due' } }"
                >{{ row.late }} past {{ row.limit }}</router-link
              >
              <span v-else class="quiet">{{ row.limit ? `limit ${row.limit}` : 'no limit' }}</span>
              <div v-if="row.asked" class="quiet">{{ row.asked }} asked back</div>
            </td>
            <td class="num">{{ row.came }} · {{ row.left }}</td>
            <td class="num">{{ days(row.median_stay) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="off.length" class="row quiet">
        Off the way:
        <router-link v-for="row in off" :key="row.stage" :to="{ query: { stage: row.stage } }" class="chip"
          ><Glyph :state="row.stage" /> {{ row.ideas }}</router-link
        >
      </p>
      <p class="quiet">
        Ages and stays are days of the calendar, the middle one of all; limits are working days, which the
        lead sets. While somebody is asked back, the age stands still and nothing counts as past its limit.
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.count {
  display: inline-flex;
  gap: 10px;
  align-items: center;
  color: var(--ink);
}
.count b {
  min-width: 34px;
}
.count svg {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
  max-width: 100%;
}
</style>
