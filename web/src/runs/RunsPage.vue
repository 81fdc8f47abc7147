<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { lasted } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import ListFacet from '@/shared/ListFacet.vue'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'

/** Runs, the newest first; each row says its reason. */
type Row = Schemas['RunRow']
const { may } = useMe()
const first = ref<Schemas['RunPage']>()
const list = useList<Row>({
  key: ['runs', 'list'],
  filters: { state: 'words', routine: 'whole' },
  columns: [
    { key: 'state', name: 'State', width: 110 },
    { key: 'robot', name: 'Robot' },
    { key: 'by', name: 'Started by' },
    { key: 'since', name: 'Since', num: true },
    { key: 'lasts', name: 'Lasts', num: true },
  ],
  every: 20_000,
  ask: async (wanted, _, after) => {
    const page = await ask(api.GET('/api/v1/runs', { params: { query: { ...wanted, after, limit: 40 } } }))
    if (!after) first.value = page
    return page
  },
})
const { wanted, set, rows } = list
const states = ['open', 'ended badly', 'done', 'cancelled'].map((value) => ({
  value,
  words: value === 'open' ? 'open now' : value,
}))
const counts = computed(() => {
  const open = first.value?.open ?? {}
  return ['running', 'waiting', 'held'].map((name) => `${open[name] ?? 0} ${name}`).join(', ')
})
const tone = (name: string): string =>
  name === 'failed' || name === 'lost' ? 'bad' : name === 'waiting' || name === 'lapsed' ? 'care' : ''
function reason(run: Row): string {
  if (run.cancel_at && run.state === 'running') return 'cancel asked'
  return run.reason || (run.outcome === 'nothing' ? 'nothing to do' : '')
}
const ENDS = {
  done: 'it worked, or had nothing to do',
  failed: 'the package or its time limit ended it',
  cancelled: 'somebody ended it',
  lapsed: 'not started by its latest start',
  lost: 'its host fell silent and the lease ended',
}
</script>

<template>
  <ListPage :list="list" title="Runs" first="Routine" :name-of="(row) => `R-${row.id}`">
    <template #lead>
      <template v-if="first">{{ counts }} · current as of <When :at="first.now" clock /></template>
    </template>
    <template #acts>
      <router-link v-if="may('run.make')" to="/workshop" class="button filled">Start a routine</router-link>
    </template>
    <template #facets>
      <ListFacet :list="list" name="state" label="State" nothing="every state" :options="states" />
      <el-button v-if="wanted.routine" class="chip on" @click="set({ routine: undefined })">
        Only {{ rows[0]?.routine ?? 'one routine' }} ✕
      </el-button>
    </template>
    <template #empty="{ filtered }">
      No run is {{ wanted.state ?? 'here' }}.
      <router-link v-if="!filtered" to="/workshop">Set up a routine and start it.</router-link>
    </template>
    <template #first="{ row }">
      <router-link class="whole" :to="`/runs/${row.id}`">{{ row.routine }}</router-link>
      <span class="quiet"> R-{{ row.id }}<template v-if="row.trial">, trial</template></span>
      <div class="quiet" :class="tone(row.state)">{{ reason(row) }}</div>
    </template>
    <template #cell="{ row, column }">
      <Glyph v-if="column.key === 'state'" :state="row.state" />
      <template v-else-if="column.key === 'robot'">{{ row.robot ?? '–' }}</template>
      <span v-else-if="column.key === 'by'" class="quiet">{{ row.started_words }}</span>
      <When v-else-if="column.key === 'since'" :at="row.ended_at ?? row.started_at ?? row.made_at" />
      <template v-else>{{ lasted(row.started_at, row.ended_at, first?.now ?? row.made_at) }}</template>
    </template>
    <template #after>
      <MarginNotes>
        <section class="stack tight">
          <h2>How a run ends</h2>
          <p v-for="(words, one) in ENDS" :key="one" class="quiet">
            <Glyph :state="one" :word="`${one}:`" /> {{ words }}
          </p>
        </section>
      </MarginNotes>
    </template>
  </ListPage>
</template>
