<script setup lang="ts">
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { useDebounce } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import HouseTabs from '@/shared/HouseTabs.vue'

/** What was changed, by whom, from where and when; sealed into a chain that can be checked. */
const route = useRoute()
const router = useRouter()
const word = (name: string) =>
  computed({
    get: () => String(route.query[name] ?? ''),
    set: (now: string) => void router.replace({ query: { ...route.query, [name]: now || undefined } }),
  })
const text = word('text')
const action = word('action')
const who = word('who')
const object = word('object')
const slow = useDebounce(text, 300)
const people = useQuery({
  queryKey: ['people', 'all'],
  queryFn: () => ask(api.GET('/api/v1/people/all')),
})
const asked = computed(() => ({
  text: slow.value || null,
  action: action.value || null,
  object: object.value || null,
  who: Number(who.value) || null,
}))
const query = useInfiniteQuery({
  queryKey: ['trail', asked],
  queryFn: ({ pageParam }) =>
    ask(api.GET('/api/v1/trail', { params: { query: { ...asked.value, after: pageParam } } })),
  initialPageParam: null as string | null,
  getNextPageParam: (page) => page.next,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const first = computed(() => query.data.value?.pages[0])
const checking = ref(false)
const check = useQuery({
  queryKey: ['trail', 'check'],
  queryFn: () => ask(api.GET('/api/v1/trail/check')),
  enabled: checking,
})
const open = ref<number | null>(null)
const exported = computed(() => {
  const wanted = Object.entries(asked.value).filter(([, value]) => value)
  return `/api/v1/trail/export.csv?${new URLSearchParams(wanted.map(([key, value]) => [key, String(value)]))}`
})
const shown = (value: unknown) => (value === null ? 'nothing' : JSON.stringify(value, null, 1))
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>House rules</h1>
        <p class="lead">What was changed, by whom, from where and when.</p>
      </div>
      <a class="button" :href="exported">Export as CSV</a>
    </div>
    <HouseTabs />
    <div class="row">
      <el-input v-model="text" placeholder="Words" aria-label="Words in the trail" style="--chars: 22" />
      <el-select v-model="who" aria-label="By whom" :empty-values="[undefined]"
        ><el-option value="" label="anybody" />
        <el-option v-for="one in people.data.value" :key="one.id" :value="String(one.id)" :label="one.name"
      /></el-select>
      <el-select v-model="action" aria-label="Action" :empty-values="[undefined]"
        ><el-option value="" label="any action" />
        <el-option v-for="one in first?.actions" :key="one" :value="one" :label="one"
      /></el-select>
      <el-button v-if="object" class="chip on" @click="object = ''">only {{ object }}, take away</el-button>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>Nothing fits. Take a filter away.</template>
      <table class="ledger">
        <thead>
          <tr>
            <th style="width: 110px">When</th>
            <th style="width: 150px">Who</th>
            <th>What</th>
            <th style="width: 120px">About</th>
            <th class="num">Sealed</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="row in rows" :key="row.id">
            <tr :class="{ open: open === row.id }">
              <td><When :at="row.at" clock /></td>
              <td>
                {{ row.who }}
                <div class="quiet">{{ row.address === '-' ? '' : row.address }}</div>
              </td>
              <td>
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
              </td>
              <td>
                <el-button link type="primary" @click="object = row.object">{{ row.object }}</el-button>
              </td>
              <td class="num">
                <Glyph :state="row.sealed ? 'met' : 'waiting'" :word="row.sealed ? 'yes' : 'soon'" />
              </td>
            </tr>
            <tr v-if="open === row.id">
              <td></td>
              <td colspan="4">
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
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <p v-if="query.hasNextPage.value">
        <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()">
          Earlier ones
        </el-button>
      </p>
    </Loaded>
    <MarginNotes holds>
      <section v-if="first" class="stack tight">
        <h2>The chain</h2>
        <p v-if="first.summary.seals">
          {{ first.summary.entries }} entries in {{ first.summary.seals }}
          {{ first.summary.seals === 1 ? 'seal, made' : 'seals, the last' }}
          <When v-if="first.summary.at" :at="first.summary.at" />.
        </p>
        <p v-else>Nothing is sealed yet; the engine seals entries some minutes after they were made.</p>
        <p class="quiet">
          Each seal names the one before it and the entries it covers, so that nothing can be changed, added
          or taken away unseen. Whoever keeps the <a href="/api/v1/trail/seals">seals</a> elsewhere can prove
          it.
        </p>
        <p><el-button @click="((checking = true), check.refetch())">Check it now</el-button></p>
        <p v-if="check.data.value && !check.data.value.faults.length" role="status">
          <Glyph state="met" word="All of it holds." />
        </p>
        <p v-for="line in check.data.value?.faults" :key="line" class="bad">{{ line }}</p>
        <Problem :error="check.error.value" />
      </section>
    </MarginNotes>
  </div>
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
