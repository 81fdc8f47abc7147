<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { lasted } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'

/** Runs, the newest first; each row says its reason. */
const route = useRoute()
const router = useRouter()
const text = (name: string): string | undefined =>
  typeof route.query[name] === 'string' ? (route.query[name] as string) : undefined
const state = computed(() => text('state'))
const routine = computed(() => Number(text('routine')) || undefined)
const query = useInfiniteQuery({
  queryKey: ['runs', 'list', state, routine],
  initialPageParam: undefined as string | undefined,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/runs', {
        params: { query: { state: state.value, routine: routine.value, after: pageParam, limit: 40 } },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
  refetchInterval: 20_000,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const first = computed(() => query.data.value?.pages[0])
const views = [
  { value: undefined, words: 'All' },
  { value: 'open', words: 'Open now' },
  { value: 'ended badly', words: 'Ended badly' },
  { value: 'done', words: 'Done' },
  { value: 'cancelled', words: 'Cancelled' },
]
const counts = computed(() => {
  const open = first.value?.open ?? {}
  return ['running', 'waiting', 'held'].map((name) => `${open[name] ?? 0} ${name}`).join(', ')
})
function set(change: Record<string, string | undefined>) {
  void router.replace({ query: { ...route.query, ...change } })
}
const tone = (name: string): string =>
  name === 'failed' || name === 'lost' ? 'bad' : name === 'waiting' || name === 'lapsed' ? 'care' : ''
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Runs</h1>
        <p v-if="first" class="lead">{{ counts }} · current as of <When :at="first.now" clock /></p>
      </div>
      <router-link to="/workshop" class="button filled">Start a routine</router-link>
    </div>
    <div class="row">
      <el-button
        v-for="view in views"
        :key="view.words"
        class="chip"
        :class="{ on: state === view.value }"
        @click="set({ state: view.value })"
      >
        {{ view.words }}
      </el-button>
      <el-button v-if="routine" class="chip on" @click="set({ routine: undefined })">
        Only {{ rows[0]?.routine ?? 'one routine' }} ✕
      </el-button>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>
        No run is {{ state ?? 'here' }}.
        <el-button v-if="state || routine" link type="primary" @click="router.replace({ query: {} })">
          Show all runs
        </el-button>
        <router-link v-else to="/workshop">Set up a routine and start it.</router-link>
      </template>
      <table class="ledger">
        <thead>
          <tr>
            <th style="width: 110px">State</th>
            <th>Routine</th>
            <th>Robot</th>
            <th>Started by</th>
            <th class="num">Since</th>
            <th class="num">Lasts</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="run in rows" :key="run.id">
            <td><Glyph :state="run.state" /></td>
            <td>
              <router-link class="whole" :to="`/runs/${run.id}`">{{ run.routine }}</router-link>
              <span class="quiet">R-{{ run.id }}<template v-if="run.trial">, trial</template></span>
              <div class="quiet" :class="tone(run.state)">
                {{
                  run.cancel_at && run.state === 'running'
                    ? 'cancel asked'
                    : run.reason || (run.outcome === 'nothing' ? 'nothing to do' : '')
                }}
              </div>
            </td>
            <td>{{ run.robot ?? '–' }}</td>
            <td class="quiet">{{ run.started_words }}</td>
            <td class="num"><When :at="run.ended_at ?? run.started_at ?? run.made_at" /></td>
            <td class="num">{{ lasted(run.started_at, run.ended_at, first?.now ?? run.made_at) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="query.hasNextPage.value">
        <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()"
          >Show more</el-button
        >
      </p>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How a run ends</h2>
        <p v-for="one in ['done', 'failed', 'cancelled', 'lapsed', 'lost']" :key="one" class="quiet">
          <Glyph :state="one" :word="`${one}:`" />
          {{
            {
              done: 'it worked, or had nothing to do',
              failed: 'the package or its time limit ended it',
              cancelled: 'somebody ended it',
              lapsed: 'not started by its latest start',
              lost: 'its host fell silent and the lease ended',
            }[one]
          }}
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
