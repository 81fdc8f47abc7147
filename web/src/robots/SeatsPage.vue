<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Working } from '@/api/client'
import { useAddress } from '@/shared/address'
import Chart from '@/shared/Chart.vue'
import Figure from '@/shared/Figure.vue'
import { dayText, money, number } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import type { Picture } from '@/shared/picture'
import { useMe } from '@/shared/session'
import RobotTabs from './RobotTabs.vue'
import SeatHolders from './SeatHolders.vue'
import SeatLots from './SeatLots.vue'
import SeatsComing from './SeatsComing.vue'

/** Seats of every kind: how many are bought, given, used now and at peak, and when they run short. */
const { currency } = useMe()
const query = useQuery({
  queryKey: ['robots', 'seats'],
  queryFn: () => ask(api.GET('/api/v1/seats')),
  refetchInterval: 15_000,
})
const data = computed(() => query.data.value)
const kind = useAddress('kind')
const chosen = computed(
  () => data.value?.kinds.find((one) => one.kind === kind.value) ?? data.value?.kinds[0],
)
const picture = computed<Picture | null>(() => {
  const days = chosen.value?.days ?? []
  if (!days.some((one) => one.most !== null)) return null
  return {
    title: 'Used at once, day by day',
    kind: 'bars',
    unit: 'seats',
    whole: true,
    columns: ['Day', 'At once'],
    rows: days.map((one) => [dayText(one.day), one.most]),
  }
})
const working = (tree: unknown) => (tree ?? null) as Working | null
</script>

<template>
  <div class="stack">
    <div>
      <h1>Seats</h1>
      <p class="lead">A seat is the right to run one robot at a time. Are there enough, and until when?</p>
    </div>
    <RobotTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data && chosen">
        <table class="ledger stacks">
          <thead>
            <tr>
              <th>Kind</th>
              <th class="num">Bought</th>
              <th class="num">Given</th>
              <th class="num">In use now</th>
              <th class="num">At peak, 30 days</th>
              <th class="num">A year</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in data.kinds" :key="one.kind" :class="{ open: one.kind === chosen.kind }">
              <td class="whole">
                <el-button
                  link
                  type="primary"
                  :aria-pressed="one.kind === chosen.kind"
                  @click="kind = one.kind"
                  >{{ one.kind }}</el-button
                >
                <div class="quiet">{{ one.what_for }}</div>
                <div v-for="said in one.short" :key="said" class="care">{{ said }}</div>
              </td>
              <td class="num" data-head="bought">
                <Figure
                  v-if="one.counted"
                  :name="`${one.kind} seats there`"
                  :text="String(one.bought)"
                  :working="working(one.bought_working)"
                /><span v-else class="quiet">not entered</span>
              </td>
              <td class="num" data-head="given">
                <Figure
                  :name="`${one.kind} seats given`"
                  :text="String(one.given)"
                  :working="working(one.given_working)"
                />
              </td>
              <td class="num" data-head="in use now">
                <Figure
                  v-if="one.used !== null"
                  :name="`${one.kind} seats in use now`"
                  :text="String(one.used)"
                  :working="working(one.used_working)"
                /><template v-else>–</template>
              </td>
              <td class="num" data-head="at peak, 30 days">
                <Figure
                  v-if="one.peak_working"
                  :name="`${one.kind} seats at peak`"
                  :text="String(working(one.peak_working)?.outcome)"
                  :working="working(one.peak_working)"
                /><template v-else>–</template>
              </td>
              <td class="num" data-head="a year">
                <Figure
                  v-if="one.a_year"
                  :name="`${one.kind} seats a year`"
                  :text="money(one.a_year, currency)"
                  :working="working(one.a_year_working)"
                /><template v-else>–</template>
              </td>
            </tr>
          </tbody>
        </table>
        <h2 class="kind">Seats of the kind {{ chosen.kind }}</h2>
        <div class="two">
          <SeatLots :key="chosen.kind" :seats="chosen" :may-buy="data.may_buy" :today="data.today" />
          <SeatHolders :key="chosen.kind" :seats="chosen" :may-give="data.may_buy" />
        </div>
        <section v-if="picture" class="stack tight">
          <Chart :picture="picture" :height="170" />
          <p v-if="chosen.trend_working" class="quiet">
            By the trend of whole weeks
            <Figure
              name="seats used at once, in a week"
              :text="number(working(chosen.trend_working)?.outcome ?? '0', 1)"
              :working="working(chosen.trend_working)"
            />
            at once {{ chosen.trend_when }}.
          </p>
        </section>
        <p v-else-if="chosen.used !== null" class="quiet">No run took such a seat in the last 30 days.</p>
        <SeatsComing v-if="chosen.kind === 'unattended'" />
      </template>
    </Loaded>
    <MarginNotes holds>
      <section class="stack tight">
        <h2>How seats work</h2>
        <p class="quiet">
          Unattended and trial seats are given to hosts: a host runs as many robots at once as it has seats.
          Attended and builder seats are given to people, or to groups whose members share them. Where it was
          never entered how many are bought, nothing limits how many are given.
        </p>
        <p class="quiet">
          A lot that ends takes no seat from a host by itself: what runs, runs on, and it is said here, by a
          notice 30, 7 and 1 day before, and to whoever looks after robots. Seats that nobody used are posted
          at each month’s end.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.kind {
  margin-top: 8px;
}
</style>
