<script setup lang="ts">
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/app/session'
import { number } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import MyIdeas from './MyIdeas.vue'
import { ROUTES } from './routes'

const route = useRoute()
const router = useRouter()
const { may } = useMe()
const one = (name: string): string | undefined =>
  typeof route.query[name] === 'string' ? (route.query[name] as string) : undefined
const stage = computed(() => one('stage'))
const sort = computed(() => one('sort') ?? 'reach')
const mine = computed(() => one('mine') === '1')
const text = ref(one('text') ?? '')
const settled = refDebounced(text, 250)
watch(settled, (now) => set({ text: now || undefined }))

function showAll() {
  text.value = ''
  void router.replace({ query: {} })
}
function set(change: Record<string, string | undefined>) {
  void router.replace({ query: { ...route.query, ...change } })
}

const divisions = useQuery({
  queryKey: ['people', 'divisions'],
  queryFn: () => ask(api.GET('/api/v1/divisions')),
  staleTime: 60_000,
})
// What the address names is what is asked for, shown as filters, and exported.
const wanted = computed(() => ({
  stage: stage.value,
  text: one('text'),
  division: one('division') ? Number(one('division')) : undefined,
  route: one('route'),
  reach_from: one('reach_from') ? Number(one('reach_from')) : undefined,
  late: one('late') === '1' || undefined,
  asked: one('asked') === '1' || undefined,
}))
const filtered = computed(() => Object.values(wanted.value).some((value) => value !== undefined))
const csv = computed(() => {
  const given = Object.entries(wanted.value).filter(([, value]) => value !== undefined)
  return `/api/v1/ideas/export.csv?${new URLSearchParams(given.map(([key, value]) => [key, String(value)]))}`
})
const chosen = (event: Event): string | undefined => (event.target as HTMLSelectElement).value || undefined

const query = useInfiniteQuery({
  queryKey: ['ideas', 'list', sort, wanted],
  enabled: () => !mine.value,
  initialPageParam: undefined as string | undefined,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/ideas', {
        params: {
          query: { ...wanted.value, sort: sort.value, after: pageParam },
        },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const stages = computed(() => query.data.value?.pages[0]?.stages ?? [])
const order = [
  'noted',
  'screened',
  'sized',
  'backed',
  'building',
  'in service',
  'parked',
  'declined',
  'merged',
  'withdrawn',
]
const shown = computed(() =>
  order
    .map((name) => ({ name, ideas: stages.value.find((row) => row.stage === name)?.ideas ?? 0 }))
    .filter((row) => row.ideas),
)
const sorts = { reach: 'hours in reach', newest: 'newest', changed: 'last changed', due: 'due first' }
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Ideas</h1>
        <p class="lead">
          {{
            may('idea.see')
              ? sort === 'reach'
                ? 'Everything handed in, ranked by the low end of the hours in reach.'
                : 'Everything handed in.'
              : 'Your ideas and those you own.'
          }}
        </p>
      </div>
      <div class="row">
        <a v-if="!mine" class="button" :href="csv">Export as CSV</a>
        <router-link to="/ideas/begin" class="button">Where do I begin?</router-link>
        <router-link to="/ideas/new" class="button filled">Hand in an idea</router-link>
      </div>
    </div>
    <nav class="tabs" aria-label="Which ideas">
      <a href="?" :class="{ on: !mine }" @click.prevent="showAll">All that I may see</a>
      <a href="?mine=1" :class="{ on: mine }" @click.prevent="set({ mine: '1' })">My ideas</a>
    </nav>
    <MyIdeas v-if="mine" />
    <template v-else>
      <div class="row filters">
        <button class="chip" :class="{ on: !stage }" @click="set({ stage: undefined })">All</button>
        <button
          v-for="row in shown"
          :key="row.name"
          class="chip"
          :class="{ on: stage === row.name }"
          @click="set({ stage: stage === row.name ? undefined : row.name })"
        >
          <Glyph :state="row.name" /> {{ row.ideas }}
        </button>
      </div>
      <div class="row">
        <input
          v-model="text"
          type="search"
          aria-label="Words in title or description"
          placeholder="Words in title or description"
          size="30"
        />
        <label class="row"
          >Order
          <select :value="sort" @change="set({ sort: ($event.target as HTMLSelectElement).value })">
            <option v-for="(words, name) in sorts" :key="name" :value="name">{{ words }}</option>
          </select></label
        >
        <select
          :value="one('division') ?? ''"
          aria-label="Division"
          @change="set({ division: chosen($event) })"
        >
          <option value="">every division</option>
          <option v-for="row in divisions.data.value" :key="row.id" :value="row.id">{{ row.name }}</option>
        </select>
        <select :value="one('route') ?? ''" aria-label="Route" @change="set({ route: chosen($event) })">
          <option value="">every route</option>
          <option v-for="row in ROUTES" :key="row">{{ row }}</option>
        </select>
        <select
          :value="one('reach_from') ?? ''"
          aria-label="Hours in reach"
          @change="set({ reach_from: chosen($event) })"
        >
          <option value="">any hours in reach</option>
          <option v-for="hours in [50, 200, 500, 1000]" :key="hours" :value="hours">
            from {{ number(hours) }} h
          </option>
        </select>
        <label class="row"
          ><input
            type="checkbox"
            :checked="one('late') === '1'"
            @change="set({ late: one('late') ? undefined : '1' })"
          />
          overdue</label
        >
        <label class="row"
          ><input
            type="checkbox"
            :checked="one('asked') === '1'"
            @change="set({ asked: one('asked') ? undefined : '1' })"
          />
          asked back</label
        >
      </div>
      <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
        <template #empty>
          No idea fits this.
          <button v-if="filtered" class="plain" @click="showAll">Show all</button>
          <router-link v-else to="/ideas/new">Hand in the first one.</router-link>
        </template>
        <table class="ledger">
          <thead>
            <tr>
              <th>Idea</th>
              <th style="width: 118px">Stage</th>
              <th class="num">In reach, h a year</th>
              <th class="num">Next move due</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="idea in rows" :key="idea.id">
              <td>
                <router-link
                  class="whole"
                  :to="idea.stage === 'draft' ? `/ideas/new/${idea.id}` : `/ideas/${idea.id}`"
                >
                  I-{{ idea.id }} {{ idea.title || 'without a name' }}
                </router-link>
                <div class="quiet">
                  {{ idea.proposer }}<template v-if="idea.division">, {{ idea.division }}</template>
                </div>
              </td>
              <td>
                <Glyph :state="idea.stage" />
                <div v-if="idea.building" class="quiet">{{ idea.building }}</div>
              </td>
              <td class="num">
                <template v-if="idea.hours_low"
                  >{{ number(idea.hours_low) }}–{{ number(idea.hours_high) }}</template
                >
                <template v-else>–</template>
              </td>
              <td class="num">
                <template v-if="idea.due_on"><When :at="idea.due_on" /></template
                ><template v-else>–</template>
                <div v-if="idea.days_late" class="quiet bad">
                  {{ idea.days_late }} {{ idea.days_late === 1 ? 'day' : 'days' }} late
                </div>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="query.hasNextPage.value"><button @click="query.fetchNextPage()">Show more</button></p>
      </Loaded>
    </template>
    <MarginNotes>
      <section class="stack tight">
        <h2>How ideas are ranked</h2>
        <p class="quiet">
          Hours in reach are the yearly hours times the fit, as a range: the less is known, the wider. Ideas
          rank by the low end, so evidence lifts an idea. Open one to see its working.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
