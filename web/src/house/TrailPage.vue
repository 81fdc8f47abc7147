<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import PersonField from '@/shared/PersonField.vue'
import ListFacet from '@/shared/ListFacet.vue'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'
import { several } from '@/shared/format'

/** What was changed, by whom, from where and when; sealed into a chain that can be checked. */
type Row = Schemas['Entry']
const first = ref<Schemas['TrailPage']>()
const list = useList<Row>({
  key: ['trail'],
  filters: { text: 'words', who: 'whole', action: 'words', object: 'words' },
  columns: [
    { key: 'who', name: 'Who', width: 150 },
    { key: 'at', name: 'When', width: 110 },
    { key: 'object', name: 'About', width: 120 },
    { key: 'sealed', name: 'Sealed', num: true },
  ],
  out: '/api/v1/trail/export',
  endings: ['csv'],
  ask: async (wanted, _, after) => {
    const page = await ask(api.GET('/api/v1/trail', { params: { query: { ...wanted, after } } }))
    if (!after) first.value = page
    return page
  },
})
const { wanted, set } = list
const actions = computed(() => (first.value?.actions ?? []).map((one) => ({ value: one, words: one })))
const checking = ref(false)
const check = useQuery({
  queryKey: ['trail', 'check'],
  queryFn: () => ask(api.GET('/api/v1/trail/check')),
  enabled: checking,
})
const open = ref<number | null>(null)
const shown = (value: unknown) => (value === null ? 'nothing' : JSON.stringify(value, null, 1))
</script>

<template>
  <ListPage :list="list" title="Audit trail" first="What" words="Words in the trail" :open="open">
    <template #lead>What was changed, by whom, from where and when.</template>
    <template #tabs><HouseTabs /></template>
    <template #facets>
      <PersonField
        plain
        label="By whom"
        placeholder="by anybody"
        :model-value="Number(wanted.who) || null"
        @update:model-value="(now) => set({ who: now ? String(now) : undefined })"
      />
      <ListFacet :list="list" name="action" label="Action" nothing="any action" :options="actions" />
      <el-button v-if="wanted.object" class="chip on" @click="set({ object: undefined })"
        >only {{ wanted.object }}, take away</el-button
      >
    </template>
    <template #first="{ row }">
      <el-button
        v-if="row.before || row.after"
        class="words"
        :aria-expanded="open === row.id"
        link
        type="primary"
        @click="open = open === row.id ? null : row.id"
        >{{ row.words }}
      </el-button>
      <template v-else>{{ row.words }}</template>
      <div class="quiet">{{ row.action }}</div>
    </template>
    <template #cell="{ row, column }">
      <When v-if="column.key === 'at'" :at="row.at" clock />
      <template v-else-if="column.key === 'who'">
        {{ row.who }}
        <div class="quiet">{{ row.address === '-' ? '' : row.address }}</div>
      </template>
      <el-button
        v-else-if="column.key === 'object'"
        link
        type="primary"
        @click="set({ object: row.object })"
        >{{ row.object }}</el-button
      >
      <Glyph v-else :state="row.sealed ? 'met' : 'waiting'" :word="row.sealed ? 'yes' : 'soon'" />
    </template>
    <template #opened="{ row }">
      <div class="two">
        <div>
          <h3>Before</h3>
          <pre>{{ shown(row.before) }}</pre>
        </div>
        <div>
          <h3>After</h3>
          <pre>{{ shown(row.after) }}</pre>
        </div>
      </div>
    </template>
    <template #after>
      <MarginNotes holds>
        <section v-if="first" class="stack tight">
          <h2>The chain</h2>
          <p v-if="first.summary.seals">
            {{ several(first.summary.entries, 'entry', 'entries') }} in
            {{ several(first.summary.seals, 'seal, made', 'seals, the last') }}
            <When v-if="first.summary.at" :at="first.summary.at" />.
          </p>
          <p v-else>Nothing is sealed yet; the engine seals entries some minutes after they were made.</p>
          <p class="quiet">
            Each seal names the one before it and the entries it covers, so that nothing can be changed, added
            or taken away unseen. Whoever keeps the <a href="/api/v1/trail/seals">seals</a> elsewhere can
            prove it.
          </p>
          <p><el-button @click="((checking = true), check.refetch())">Check it now</el-button></p>
          <p v-if="check.data.value && !check.data.value.faults.length" role="status">
            <Glyph state="met" word="All of it holds." />
          </p>
          <p v-for="line in check.data.value?.faults" :key="line" class="bad">{{ line }}</p>
          <Problem :error="check.error.value" />
        </section>
      </MarginNotes>
    </template>
  </ListPage>
</template>

<style scoped>
.words {
  font-weight: 400;
  color: var(--ink);
  text-align: left;
  white-space: normal;
}
pre {
  margin: 4px 0;
  font-size: 12px;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
