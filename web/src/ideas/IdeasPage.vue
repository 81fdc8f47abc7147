<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import IdeaFilters from './IdeaFilters.vue'
import IdeaTable from './IdeaTable.vue'
import ManyIdeas from './ManyIdeas.vue'
import MyIdeas from './MyIdeas.vue'
import SavedViews from './SavedViews.vue'
import StageMap from './StageMap.vue'
import { COLUMNS, FILTERS, SORTS, STAGES, USUAL, wantedOf } from './lists'

const route = useRoute()
const router = useRouter()
const { may, currency } = useMe()
const one = (name: string): string | undefined =>
  typeof route.query[name] === 'string' ? (route.query[name] as string) : undefined
const tab = computed(() => (one('mine') === '1' ? 'mine' : one('map') === '1' ? 'map' : 'list'))
const stage = computed(() => one('stage'))
const sort = computed(() => (one('sort') && one('sort')! in SORTS ? one('sort')! : 'reach'))
const columns = computed(() => {
  const asked = (one('cols') ?? '').split('-')
  const found = COLUMNS.filter((column) => asked.includes(column.key)).map((column) => column.key)
  return found.length ? found : USUAL
})
const text = ref(one('text') ?? '')
watch(
  () => one('text'),
  (now) => (now ?? '') !== text.value.trim() && (text.value = now ?? ''),
)
const settled = refDebounced(text, 250)
watch(settled, (now) => set({ text: now.trim() || undefined }))

function showAll() {
  text.value = ''
  void router.replace({ query: {} })
}
function set(change: Record<string, string | undefined>) {
  void router.replace({ query: { ...route.query, ...change } })
}
// What the address names is what is asked for, shown as filters, saved, and exported.
const wanted = computed(() => wantedOf(one))
const filtered = computed(() => Object.keys(wanted.value).length > 0)
const saved = computed(() => {
  const given: Record<string, string> = {}
  for (const name of [...FILTERS, 'sort', 'cols']) {
    const value = one(name)
    if (value) given[name] = value
  }
  return new URLSearchParams(given).toString()
})
function openView(query: string) {
  const given = Object.fromEntries(new URLSearchParams(query))
  text.value = given.text ?? ''
  void router.push({ query: given })
}
const outOf = (ending: string) => {
  const given = Object.entries(wanted.value).map(([key, value]) => [key, String(value)])
  return `/api/v1/ideas/export.${ending}?${new URLSearchParams([...given, ['sort', sort.value]])}`
}

const query = useInfiniteQuery({
  queryKey: ['ideas', 'list', sort, wanted],
  enabled: () => tab.value === 'list',
  initialPageParam: undefined as string | undefined,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/ideas', {
        params: { query: { ...wanted.value, sort: sort.value, after: pageParam } },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const stages = computed(() => query.data.value?.pages[0]?.stages ?? [])
const shown = computed(() =>
  STAGES.map((name) => ({ name, ideas: stages.value.find((row) => row.stage === name)?.ideas ?? 0 })).filter(
    (row) => row.ideas,
  ),
)
const ticked = ref<number[]>([])
// What became of the last act stays to be read when the ideas leave the list by it.
const acted = ref(false)
watch([wanted, sort], () => ((ticked.value = []), (acted.value = false)))
const columning = ref(false)
function column(key: string) {
  const now = columns.value.includes(key)
    ? columns.value.filter((one) => one !== key)
    : [...columns.value, key]
  set({
    cols:
      COLUMNS.map((one) => one.key)
        .filter((one) => now.includes(one))
        .join('-') || undefined,
  })
}
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Ideas</h1>
        <p class="lead">
          {{
            may('idea.see')
              ? tab === 'map'
                ? 'Where everything stands on its way, how long, and where it is stuck.'
                : 'Everything handed in, by what is in reach.'
              : 'Your ideas and those you own.'
          }}
        </p>
      </div>
      <div class="row">
        <router-link to="/ideas/begin" class="button">Where do I begin?</router-link>
        <router-link to="/ideas/new" class="button filled">Hand in an idea</router-link>
      </div>
    </div>
    <div class="spread">
      <nav class="tabs" aria-label="Which ideas">
        <a href="?" :class="{ on: tab === 'list' }" @click.prevent="showAll">All that I may see</a>
        <a
          v-if="may('idea.see')"
          href="?map=1"
          :class="{ on: tab === 'map' }"
          @click.prevent="router.push({ query: { map: '1' } })"
          >By stage</a
        >
        <a
          href="?mine=1"
          :class="{ on: tab === 'mine' }"
          @click.prevent="router.push({ query: { mine: '1' } })"
          >My ideas</a
        >
      </nav>
      <p class="row ways">
        <router-link to="/ideas/thanks">Thanks</router-link>
        <router-link v-if="may('entry.make')" to="/ideas/enter">Enter one for the team</router-link>
        <router-link v-if="may('entry.make')" to="/ideas/bring">Bring a list</router-link>
      </p>
    </div>
    <MyIdeas v-if="tab === 'mine'" />
    <StageMap v-else-if="tab === 'map'" />
    <template v-else>
      <div class="narrowing">
        <div class="row stages">
          <el-button class="chip" :class="{ on: !stage }" @click="set({ stage: undefined })">All</el-button>
          <el-button
            v-for="row in shown"
            :key="row.name"
            class="chip"
            :class="{ on: stage === row.name }"
            @click="set({ stage: stage === row.name ? undefined : row.name })"
          >
            <Glyph :state="row.name" /> {{ row.ideas }}
          </el-button>
        </div>
        <IdeaFilters :wanted="wanted" :wide="may('idea.see')" @set="set">
          <el-input
            v-model="text"
            aria-label="Words anywhere in ideas"
            placeholder="Words anywhere, also in files; or I-104"
            style="--chars: 34"
            maxlength="100"
          />
        </IdeaFilters>
        <SavedViews :query="saved" @open="openView" />
        <ManyIdeas
          v-if="ticked.length || acted"
          :ids="ticked"
          :reviews="may('idea.decide')"
          :places="may('idea.change')"
          @clear="((ticked = []), (acted = false))"
          @done="(left: number[]) => ((ticked = left), (acted = true))"
        />
        <div class="row tools">
          <label class="row"
            >Order
            <el-select :model-value="sort" aria-label="Order" @change="(now: string) => set({ sort: now })">
              <el-option
                v-for="(words, name) in SORTS"
                :key="name"
                :value="name"
                :label="words"
              /> </el-select
          ></label>
          <el-button :aria-expanded="columning" link type="primary" @click="columning = !columning"
            >Columns</el-button
          >
          <span class="push"></span>
          <span class="quiet">Take out what is shown:</span>
          <a :href="outOf('csv')">CSV</a>
          <a :href="outOf('xlsx')">XLSX</a>
        </div>
      </div>
      <p v-if="columning" class="row" role="group" aria-label="Columns">
        <el-checkbox
          v-for="entry in COLUMNS"
          :key="entry.key"
          :model-value="columns.includes(entry.key)"
          @change="column(entry.key)"
          >{{ entry.name }}</el-checkbox
        >
      </p>
      <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
        <template #empty>
          No idea fits this.
          <el-button v-if="filtered" link type="primary" @click="showAll">Show all</el-button>
          <router-link v-else to="/ideas/new">Hand in the first one.</router-link>
        </template>
        <IdeaTable
          v-model="ticked"
          :rows="rows"
          :columns="columns"
          :sort="sort"
          :currency="currency"
          @sort="(name: string) => set({ sort: name })"
        />
        <p v-if="query.hasNextPage.value">
          <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()"
            >Show more</el-button
          >
        </p>
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
      <section v-if="tab === 'list'" class="stack tight">
        <h2>What the words find</h2>
        <p class="quiet">
          All words must be there, each from its beginning: in names, descriptions, answers, remarks, talk,
          and in attached files and their names.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.push {
  flex: 1;
}
.narrowing {
  display: grid;
  gap: 12px;
}
.ways {
  gap: 18px;
}
.tools {
  gap: 14px;
}
</style>
