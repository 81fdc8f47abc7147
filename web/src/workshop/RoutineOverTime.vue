<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Chart from '@/shared/Chart.vue'
import { dayText } from '@/shared/format'
import { releaseMarks, type Picture } from '@/shared/picture'
import { useMe } from '@/shared/session'
import { wallOf } from '@/shared/wall'
import When from '@/shared/When.vue'

/** How a routine's runs ended day by day, with a mark where it took another release; and who gave it that, and why. */
const props = defineProps<{ routine: number; name: string }>()
const query = useQuery({
  queryKey: ['routines', 'over-time', () => props.routine],
  queryFn: () =>
    ask(api.GET('/api/v1/routines/{number}/over-time', { params: { path: { number: props.routine } } })),
})
const data = computed(() => query.data.value)
const { zone } = useMe()
// The day of a moment by the reader's clock, as the server counts days for them.
const localDay = (moment: string): string => wallOf(moment, zone.value).slice(0, 10)
const ran = computed(() => (data.value?.days ?? []).some((day) => day.done + day.failed + day.other))
const picture = computed<Picture>(() => {
  const days = data.value?.days ?? []
  const at = new Map(days.map((day, n) => [day.day, n]))
  return {
    title: `Runs of ${props.name} by the day they ended`,
    kind: 'stack',
    unit: 'runs',
    whole: true,
    columns: ['Day', 'Done', 'Cancelled', 'Failed or lost'],
    rows: days.map((day) => [dayText(day.day), day.done, day.other, day.failed]),
    marks: releaseMarks(data.value?.releases ?? [], (since) => at.get(localDay(since)) ?? -1),
  }
})
</script>

<template>
  <section v-if="data" class="stack tight">
    <p v-if="data.rollout" class="note">
      A <router-link :to="`/workshop/rollouts/${data.rollout}`">roll-out</router-link> changes its release
      now.
    </p>
    <Chart v-if="ran" :picture="picture" :height="190" />
    <template v-if="data.releases.length > 1">
      <h2>Releases it had</h2>
      <table class="ledger">
        <tbody>
          <tr v-for="one in [...data.releases].reverse()" :key="one.id">
            <td style="width: 110px">
              <router-link :to="`/workshop/releases/${one.release_id}`">{{ one.version }}</router-link>
            </td>
            <td>
              <router-link v-if="one.rollout_id" :to="`/workshop/rollouts/${one.rollout_id}`">{{
                one.why || 'roll-out'
              }}</router-link>
              <template v-else>{{ one.why }}</template>
              <div v-if="one.person" class="quiet">{{ one.person }}</div>
            </td>
            <td class="num">since <When :at="one.since" /></td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>
