<script setup lang="ts">
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import Figure from '@/shared/Figure.vue'
import { money, monthText, number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'
import NotTallied from './NotTallied.vue'
import TallyLines from './TallyLines.vue'
import TallyPicture from './TallyPicture.vue'

/** Promised against delivered by month, down to the entry and its run. */
const props = defineProps<{ idea: number; byHand?: boolean }>()
const route = useRoute()
const router = useRouter()
const { currency } = useMe()
const query = useQuery({
  queryKey: ['tally', 'idea', () => props.idea],
  queryFn: () => ask(api.GET('/api/v1/value/ideas/{number}', { params: { path: { number: props.idea } } })),
})
const data = computed(() => query.data.value)
const month = computed(() => (typeof route.query.month === 'string' ? route.query.month : null))
const entries = useInfiniteQuery({
  queryKey: ['tally', 'entries', () => props.idea, month],
  enabled: () => month.value !== null,
  initialPageParam: 0,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/value/ideas/{number}/{month}', {
        params: { path: { number: props.idea, month: month.value ?? '' }, query: { after: pageParam } },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
})
const rows = computed(() => entries.data.value?.pages.flatMap((page) => page.rows) ?? [])
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
function open(name: string) {
  const query = { ...route.query }
  delete query.month
  if (month.value !== name) query.month = name
  void router.replace({ query })
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!data?.months.length">
    <template #empty>
      <NotTallied :idea="idea" :by-hand="byHand" :routine="data?.routine_id ?? null" :name="data?.routine" />
    </template>
    <div v-if="data" class="stack">
      <p class="quiet">
        Counted by
        <router-link v-if="data.routine_id" :to="`/workshop/routines/${data.routine_id}`">{{
          data.routine
        }}</router-link>
        <template v-else>hand</template
        ><template v-if="data.counted_until"
          >&#32;until <When :at="data.counted_until" day />, when it was retired;
          <router-link :to="`/workshop/routines/new?idea=${idea}`"
            >another can count on</router-link
          ></template
        ><template v-if="data.live_on">, in service since <When :at="data.live_on" /></template
        ><template v-if="data.promised_from">; promised from <When :at="data.promised_from" /></template
        ><template v-else-if="byHand">; nothing is promised of it</template>.
      </p>
      <TallyLines v-if="data.lines.length" :lines="data.lines" :symbol="symbol" />
      <TallyPicture
        v-if="data.months.length > 1"
        :months="data.months"
        :routine="data.routine_id ?? null"
        :unit="symbol"
      />
      <table class="ledger">
        <thead>
          <tr>
            <th>Month</th>
            <th class="num">Units</th>
            <th class="num">Hours saved</th>
            <th class="num">Promised, {{ symbol }}</th>
            <th class="num">Delivered, {{ symbol }}</th>
            <th class="num">Difference, {{ symbol }}</th>
            <th class="num">Costs, {{ symbol }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="row in [...data.months].reverse()" :key="row.month">
            <tr :class="{ open: month === row.month }">
              <td>
                <el-button :aria-expanded="month === row.month" link type="primary" @click="open(row.month)"
                  >{{ monthText(row.month) }}
                </el-button>
                <span class="quiet">{{ row.state }}, {{ several(row.entries, 'entry', 'entries') }}</span>
              </td>
              <td class="num">{{ number(row.units) }}</td>
              <td class="num">{{ number(row.hours, 1, 1) }}</td>
              <td class="num">{{ number(row.promised, 2, 2) }}</td>
              <td class="num">{{ number(row.saved, 2, 2) }}</td>
              <td class="num">
                <Figure
                  :name="`month-${row.month}`"
                  :working="row.working"
                  :text="number(row.difference, 2, 2)"
                />
              </td>
              <td class="num">{{ number(row.costs, 2, 2) }}</td>
            </tr>
            <tr v-if="month === row.month">
              <td colspan="7" class="entries">
                <Loaded :pending="entries.isPending.value" :error="entries.error.value" :empty="!rows.length">
                  <template #empty>No entry was posted in this month.</template>
                  <table class="ledger">
                    <thead>
                      <tr>
                        <th>Run</th>
                        <th>Line</th>
                        <th class="num">Units</th>
                        <th class="num">Hours</th>
                        <th class="num">{{ symbol }}</th>
                        <th class="num">Ended</th>
                      </tr>
                    </thead>
                    <tbody>
                      <tr v-for="entry in rows" :key="entry.id">
                        <td>
                          <router-link v-if="entry.run_id" :to="`/runs/${entry.run_id}`"
                            >R-{{ entry.run_id }}</router-link
                          ><template v-else>{{
                            entry.kind === 'month end' ? 'month end' : 'by hand'
                          }}</template>
                        </td>
                        <td>
                          {{ entry.line }}
                          <div v-if="entry.kind === 'reversal' || entry.kind === 'correction'" class="quiet">
                            {{ entry.kind }}<template v-if="entry.person"> by {{ entry.person }}</template
                            >: {{ entry.why }}
                          </div>
                        </td>
                        <td class="num">{{ number(entry.units) }}</td>
                        <td class="num">{{ number(entry.hours, 2, 2) }}</td>
                        <td class="num">
                          <Figure
                            :name="`entry-${entry.id}`"
                            :working="entry.working"
                            :text="number(entry.money, 2, 2)"
                          />
                        </td>
                        <td class="num"><When :at="entry.at" /></td>
                      </tr>
                    </tbody>
                  </table>
                  <p v-if="entries.hasNextPage.value">
                    <el-button @click="entries.fetchNextPage()">Show more</el-button>
                  </p>
                </Loaded>
              </td>
            </tr>
          </template>
          <tr v-if="data.rounding" class="quiet">
            <td colspan="3">Left by rounding, as each month is rounded by itself</td>
            <td class="num">{{ number(data.rounding.promised, 2, 2) }}</td>
            <td class="num">{{ number(data.rounding.saved, 2, 2) }}</td>
            <td class="num">{{ number(data.rounding.difference, 2, 2) }}</td>
            <td class="num">{{ number(data.rounding.costs, 2, 2) }}</td>
          </tr>
          <tr class="sum">
            <td>Together</td>
            <td class="num">{{ number(data.total.units) }}</td>
            <td class="num">{{ number(data.total.hours, 1, 1) }}</td>
            <td class="num">{{ number(data.total.promised, 2, 2) }}</td>
            <td class="num">{{ number(data.total.saved, 2, 2) }}</td>
            <td class="num">
              <Figure name="all-months" :working="data.working" :text="number(data.total.difference, 2, 2)" />
            </td>
            <td class="num">{{ number(data.total.costs, 2, 2) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </Loaded>
</template>

<style scoped>
.entries {
  padding-left: 24px;
  background: var(--margin);
}
</style>
