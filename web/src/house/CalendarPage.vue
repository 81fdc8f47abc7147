<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { dayText, number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import DaysToClose from './DaysToClose.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import YearOfDays from './YearOfDays.vue'
import AreaField from '@/shared/AreaField.vue'
import { useAreas } from '@/shared/areas'

/** The calendar of work: a year in which days are closed by clicking them, holidays and files brought in. */
const route = useRoute()
const router = useRouter()
const year = computed(() => Number(route.query.year) || new Date().getFullYear())
const area = computed(() => Number(route.query.area) || null)
const go = (query: Record<string, string | undefined>) =>
  router.replace({ query: { ...route.query, ...query } })
const query = useQuery({
  queryKey: ['areas', 'calendar', year, area],
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.GET('/api/v1/calendars/{year}', {
        params: { path: { year: year.value }, query: { area: area.value } },
      }),
    ),
})
const data = computed(() => query.data.value)
const { areas } = useAreas()
const name = ref('Closed')
const close = useAction((day: string) =>
  ask(
    api.POST('/api/v1/calendars/closed-days', {
      body: { area: area.value, days: [{ day, name: name.value.trim() || 'Closed' }] },
    }),
  ),
)
const open = useAction((day: string) =>
  ask(
    api.DELETE('/api/v1/areas/closed-days/{day}', { params: { path: { day }, query: { area: area.value } } }),
  ),
)
function toggle(day: string) {
  const there = data.value?.days.find((one) => one.day === day)
  if (!there) void close.go(day)
  else if (there.own) void open.go(day)
}
const own = computed(() => (data.value?.days ?? []).filter((one) => one.own))
const ical = computed(() => `/api/v1/calendars/ical${area.value ? `?area=${area.value}` : ''}`)
const yearly = computed(() => Number(data.value?.hours_a_day ?? 0) * (data.value?.working_days ?? 0))
</script>

<template>
  <div class="stack">
    <div>
      <h1>Calendar of work</h1>
      <p class="lead">Plans, rhythms, starts and what a robot can work in a year rest on these days.</p>
    </div>
    <HouseTabs />
    <div class="spread">
      <p class="row">
        <el-button :aria-label="`Year ${year - 1}`" @click="go({ year: String(year - 1) })">
          ‹ {{ year - 1 }}
        </el-button>
        <b class="year">{{ year }}</b>
        <el-button :aria-label="`Year ${year + 1}`" @click="go({ year: String(year + 1) })"
          >{{ year + 1 }} ›
        </el-button>
        <label v-if="areas.length">
          Calendar of
          <AreaField
            :model-value="area ?? null"
            nothing="the company"
            label="Calendar of"
            @update:model-value="(now) => go({ area: now === null ? undefined : String(now) })"
          />
        </label>
      </p>
      <a :href="ical" download>Take it out as iCalendar</a>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <p>
          <b>{{ data.working_days }} working days</b> in {{ year }}: all but Saturdays, Sundays and
          {{ several(data.days.length, 'closed day', 'closed days') }}.
          <template v-if="data.hours_a_day">
            A robot works {{ number(data.hours_a_day, 1) }} h a day
            <span class="quiet">({{ data.hours_how }})</span>, so {{ number(yearly) }} h a year.
          </template>
          <template v-else>
            No host has seats yet, so hours a day are not known:
            <router-link to="/robots">add a host</router-link> or give them on a case.
          </template>
        </p>
        <p v-if="data.may_change" class="row">
          <label for="closed-name">Click a day to close it, as</label>
          <el-input id="closed-name" v-model="name" style="--chars: 22" maxlength="80" />
          <span class="quiet">click it again to work on it.</span>
        </p>
        <p v-else class="quiet">
          {{
            area
              ? 'Whoever changes this area (area.change)'
              : 'Whoever changes the house rules (house.change)'
          }}
          closes days.
        </p>
        <Problem :error="close.error.value ?? open.error.value" />
        <YearOfDays
          :year="year"
          :days="data.days"
          :months="data.months"
          :today="data.today"
          :change="data.may_change"
          @toggle="toggle"
        />
        <div class="two">
          <section class="stack tight">
            <h2>Closed in {{ year }}</h2>
            <p v-if="!data.days.length" class="quiet">
              Nothing yet; bring in public holidays, or click days above.
            </p>
            <table v-else class="ledger">
              <tbody>
                <tr v-for="one in data.days" :key="one.day + one.of">
                  <td>{{ dayText(one.day) }}</td>
                  <td>{{ one.name }}</td>
                  <td class="quiet">{{ one.own ? '' : `of ${one.of}` }}</td>
                </tr>
              </tbody>
            </table>
          </section>
          <DaysToClose v-if="data.may_change" :area="area" :year="year" :closed="own.map((one) => one.day)" />
        </div>
      </template>
    </Loaded>
  </div>
</template>

<style scoped>
.year {
  font: 600 18px var(--title-face);
}
</style>
