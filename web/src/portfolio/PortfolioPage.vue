<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import BackIdea from '@/cases/BackIdea.vue'
import Chart from '@/shared/Chart.vue'
import Figure from '@/shared/Figure.vue'
import { money, number } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import type { Picture } from '@/shared/picture'
import Sheets from '@/shared/Sheets.vue'

/** The decision: what waits for it first, ranked by worth for each day of building. */
const route = useRoute()
const { currency } = useMe()
const query = useQuery({ queryKey: ['ideas', 'portfolio'], queryFn: () => ask(api.GET('/api/v1/portfolio')) })
const all = computed(() => query.data.value?.rows ?? [])
const views = { decide: 'To decide', built: 'Backed and building', live: 'In service' }
type View = keyof typeof views
const sheets = Object.entries(views).map(([key, words]) => ({ key, words, query: { view: key } }))
const view = computed<View>(() =>
  typeof route.query.view === 'string' && route.query.view in views ? (route.query.view as View) : 'decide',
)
const stages: Record<View, string[]> = {
  decide: ['sized', 'screened'],
  built: ['backed', 'building'],
  live: ['in service'],
}
const rows = computed(() => all.value.filter((row) => stages[view.value].includes(row.stage)))
const symbol = computed(() => money('0', currency.value).replace(/\s*0$/, ''))
const known = computed(() => rows.value.filter((row) => row.worth !== null && row.effort_days !== null))
const picture = computed<Picture>(() => ({
  title: 'Worth against build effort',
  kind: 'field',
  unit: `worth over three years, ${symbol.value}`,
  xUnit: 'build effort, person-days',
  columns: ['Idea', 'Person-days', `Worth, ${symbol.value}`],
  rows: known.value.map((row) => [
    `I-${row.id} ${row.title}`,
    Number(row.effort_days),
    Math.round(Number(row.worth)),
  ]),
}))
const first = computed(() => rows.value.find((row) => row.may_back))
function why(row: (typeof rows.value)[number]): string {
  if (row.stage === 'sized') return 'sized and agreed'
  if (row.stage !== 'screened') return row.stage
  return row.sizing_state === 'offered' ? 'waits for agreement to its sizing' : 'waits to be sized'
}
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Portfolio</h1>
        <p v-if="first" class="lead">
          Best to decide next:
          <router-link :to="`/ideas/${first.id}?sheet=case`">I-{{ first.id }} {{ first.title }}</router-link
          >, worth {{ money(first.per_day, currency) }} for each day of building.
        </p>
        <p v-else class="lead">Nothing is sized, agreed and waiting for a decision.</p>
      </div>
      <BackIdea v-if="first" :idea="first.id" :title="first.title" />
    </div>
    <Sheets label="Views" :sheets="sheets" :now="view" />
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>
        No idea stands here. <router-link to="/ideas?stage=noted">See what waits for a review</router-link>,
        or <router-link to="/ideas/new">hand one in</router-link>.
      </template>
      <table class="ledger">
        <thead>
          <tr>
            <th class="num" style="width: 36px">Rank</th>
            <th>Idea</th>
            <th class="num">Worth over three years, {{ symbol }}</th>
            <th class="num">Build effort, days</th>
            <th class="num">Worth a day, {{ symbol }}</th>
            <th>Stands</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in rows" :key="row.id">
            <td class="num">{{ row.per_day === null ? '–' : n + 1 }}</td>
            <td>
              <router-link class="whole" :to="`/ideas/${row.id}?sheet=case`"
                >I-{{ row.id }} {{ row.title }}</router-link
              >
              <div class="quiet">{{ row.division }}</div>
            </td>
            <td class="num">{{ number(row.worth) }}</td>
            <td class="num">
              {{ number(row.effort_days, 1) }}
              <div class="quiet">{{ row.band }}</div>
            </td>
            <td class="num">
              <Figure
                v-if="row.per_day"
                :name="`rank-${row.id}`"
                :working="row.working"
                :text="number(row.per_day)"
              />
              <router-link
                v-else
                :to="`/ideas/${row.id}?sheet=${row.effort_days ? 'case' : 'sizing'}`"
                class="quiet care"
              >
                {{ row.working.missing.join(' and ') }} missing
              </router-link>
            </td>
            <td>
              <Glyph :state="row.stage" />
              <div class="quiet">{{ why(row) }}</div>
            </td>
          </tr>
        </tbody>
      </table>
      <Chart v-if="known.length > 1" :picture="picture" :height="260" />
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How the rank is made</h2>
        <p class="quiet">
          Worth over three years (NPV) divided by the build effort: what each day of a builder brings. Choose
          a figure to see where its parts come from. Only a sizing that somebody else agreed to can be backed.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
