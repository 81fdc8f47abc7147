<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
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

const query = useInfiniteQuery({
  queryKey: ['ideas', 'list', stage, sort, mine, computed(() => one('text'))],
  initialPageParam: undefined as string | undefined,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/ideas', {
        params: {
          query: {
            stage: stage.value,
            sort: sort.value,
            mine: mine.value,
            text: one('text'),
            after: pageParam,
          },
        },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const stages = computed(() => query.data.value?.pages[0]?.stages ?? [])
const order = ['noted', 'screened', 'sized', 'backed', 'building', 'in service', 'declined', 'withdrawn']
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
              ? 'Everything handed in, ranked by the low end of the hours in reach.'
              : 'Your ideas and those you own.'
          }}
        </p>
      </div>
      <router-link to="/ideas/new" class="button filled">Hand in an idea</router-link>
    </div>
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
      <label class="row"
        ><input type="checkbox" :checked="mine" @change="set({ mine: mine ? undefined : '1' })" /> only
        mine</label
      >
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>
        No idea fits this.
        <button v-if="stage || mine || text" class="plain" @click="showAll">Show all</button>
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
              <template v-if="idea.due_on"><When :at="idea.due_on" /></template><template v-else>–</template>
              <div v-if="idea.days_late" class="quiet bad">
                {{ idea.days_late }} {{ idea.days_late === 1 ? 'day' : 'days' }} late
              </div>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="query.hasNextPage.value"><button @click="query.fetchNextPage()">Show more</button></p>
    </Loaded>
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
