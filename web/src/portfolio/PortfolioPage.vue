<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import BackIdea from '@/cases/BackIdea.vue'
import Chart from '@/shared/Chart.vue'
import { money, plural, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import type { Picture } from '@/shared/picture'
import Sheets from '@/shared/Sheets.vue'
import When from '@/shared/When.vue'
import PromisedIdeas from './PromisedIdeas.vue'
import { standing } from './standing'
import RankedIdeas from './RankedIdeas.vue'

/** The decision: what waits for it first; then what was promised of the backed ones, and what is expected now. */
const route = useRoute()
const { currency, zone } = useMe()
const today = computed(() => dayIn(zone.value))
const query = useQuery({ queryKey: ['ideas', 'portfolio'], queryFn: () => ask(api.GET('/api/v1/portfolio')) })
const all = computed(() => query.data.value?.rows ?? [])
const views = { decide: 'To decide', built: 'Backed and building', live: 'In service' }
type View = keyof typeof views
const stages: Record<View, string[]> = {
  decide: ['sized', 'screened'],
  built: ['backed', 'building'],
  live: ['in service'],
}
const of = (key: View) => all.value.filter((row) => stages[key].includes(row.stage))
const sheets = Object.entries(views).map(([key, words]) => ({ key, words, query: { view: key } }))
const view = computed<View>(() =>
  typeof route.query.view === 'string' && route.query.view in views ? (route.query.view as View) : 'decide',
)
const rows = computed(() => of(view.value))
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
const decided = computed(() => of('decide').filter((row) => row.may_back))
const waiting = computed(() => of('decide').filter((row) => row.stage === 'sized'))
const first = computed(() => decided.value[0])
const built = computed(() => of('built'))
const late = computed(() => built.value.filter((row) => standing(row, today.value) === 'late'))
const over = computed(() => built.value.filter((row) => standing(row, today.value) === 'over'))
const less = computed(() =>
  of('live').filter(
    (row) => row.worth && row.promised_worth && Number(row.worth) < Number(row.promised_worth),
  ),
)
const reckoned = computed(() => all.value.find((row) => row.worth_on && !row.waits)?.worth_on)
const waits = computed(() => all.value.filter((row) => row.waits).length)
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Portfolio</h1>
        <template v-if="view === 'decide'">
          <p v-if="first" class="lead">
            {{ several(decided.length, 'idea waits', 'ideas wait') }} for your decision. Best to decide next:
            <router-link :to="`/ideas/${first.id}?sheet=case`">I-{{ first.id }} {{ first.title }}</router-link
            ><template v-if="Number(first.per_day) > 0"
              >, worth {{ money(first.per_day, currency) }} for each day of building</template
            >.
          </p>
          <p v-else-if="waiting.length" class="lead">
            {{ several(waiting.length, 'idea is', 'ideas are') }} sized and agreed, and
            {{ plural(waiting.length, 'waits', 'wait') }} for the lead to back
            {{ plural(waiting.length, 'it', 'them') }}.
          </p>
          <p v-else class="lead">Nothing is sized, agreed and waiting for a decision.</p>
        </template>
        <p v-else-if="view === 'built'" class="lead">
          {{ several(rows.length, 'idea is', 'ideas are') }} backed or being built.
          <template v-if="over.length">
            {{ several(over.length, 'was', 'were') }} to be live by now and
            {{ plural(over.length, 'is', 'are') }} not.
          </template>
          <template v-if="late.length">
            {{ several(late.length, 'is', 'are') }} expected to go live later than promised.
          </template>
          <template v-if="rows.length && !late.length && !over.length">
            Each is expected to go live when it was promised.
          </template>
        </p>
        <p v-else class="lead">
          {{ several(rows.length, 'idea is', 'ideas are') }} in service.
          <template v-if="less.length">
            {{ several(less.length, 'is', 'are') }} expected to bring less now than was promised.
          </template>
          What they bring stands under <router-link to="/value">Value</router-link>.
        </p>
      </div>
      <BackIdea v-if="view === 'decide' && first" :idea="first.id" :title="first.title" />
    </div>
    <Sheets label="Views" :sheets="sheets" :now="view" />
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>
        No idea stands here. <router-link to="/ideas?stage=noted">See what waits for a review</router-link>,
        or <router-link to="/ideas/new">hand one in</router-link>.
      </template>
      <RankedIdeas v-if="view === 'decide'" :rows="rows" />
      <PromisedIdeas v-else :rows="rows" :live="view === 'live'" />
      <Chart v-if="view === 'decide' && known.length > 1" :picture="picture" :height="260" />
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How the rank is made</h2>
        <p class="quiet">
          Worth over three years (NPV) divided by the build effort: what each day of a builder brings. One
          that loses stands by what it loses. Choose a figure to see where its parts come from. Only a sizing
          that somebody else agreed to can be backed.
        </p>
        <p v-if="reckoned" class="quiet">
          Every worth is that of its business case, reckoned on <When :at="reckoned" /> and again whenever a
          fact, a rate, a calendar or a host moves it<template v-if="waits"
            >; {{ several(waits, 'is', 'are') }} just being reckoned anew</template
          >.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
