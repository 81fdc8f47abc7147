<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import Loaded from '@/shared/Loaded.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import ListOfSystems from './ListOfSystems.vue'
import SystemForm from './SystemForm.vue'
import SystemUse from './SystemUse.vue'
import { several } from '@/shared/format'

/** The systems that the work touches: how a robot gets at each, who owns it, what breaks if it changes. */
type Row = Schemas['InventoryRow']
const route = useRoute()
const router = useRouter()
const { may } = useMe()
const words = computed(() => (typeof route.query.words === 'string' ? route.query.words : ''))
const open = computed(() => Number(route.query.system) || null)
const query = useQuery({
  queryKey: ['systems', 'list', words],
  placeholderData: keepPreviousData,
  queryFn: () => ask(api.GET('/api/v1/systems', { params: { query: { words: words.value } } })),
})
const rows = computed(() => query.data.value ?? [])
const fresh = computed(() => rows.value.filter((row) => row.state === 'new').length)
const adding = ref(false)
const changing = ref<number | null>(null)
const change = computed(() => may('system.change'))
function search(now: string) {
  const text = now.trim()
  void router.replace({ query: { ...route.query, words: text || undefined } })
}
function show(row: Row) {
  const number = open.value === row.id ? undefined : String(row.id)
  changing.value = null
  void router.replace({ query: { ...route.query, system: number } })
}
const use = (row: Row): string =>
  [
    row.ideas ? `${several(row.ideas, 'idea', 'ideas')}` : '',
    row.routines ? `${several(row.routines, 'routine', 'routines')}` : '',
  ]
    .filter(Boolean)
    .join(', ') || 'nothing yet'
</script>

<template>
  <div class="stack">
    <div>
      <h1>Systems</h1>
      <p class="lead">What the work touches, how a robot gets at it, and what breaks if it changes.</p>
    </div>
    <HouseTabs />
    <div class="spread">
      <el-input
        :model-value="words"
        style="--chars: 34"
        aria-label="Find a system"
        placeholder="Name, note or owner"
        @input="search"
      />
      <p class="row">
        <a href="/api/v1/systems/csv" download>Take all out as CSV</a>
        <el-button v-if="change && !adding" @click="adding = true">Enter a system</el-button>
      </p>
    </div>
    <SystemForm v-if="adding" @done="adding = false" />
    <p v-if="fresh" class="note care">
      {{ several(fresh, 'system was', 'systems were') }} named on sizings and not looked at yet; whoever
      changes one makes it known.
    </p>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>
        {{ words ? `No system has “${words}” in its name, note or owner.` : 'No system is entered yet.' }}
        A system that a sizing names is entered by itself, marked new.
      </template>
      <table class="ledger">
        <thead>
          <tr>
            <th>System</th>
            <th>Access</th>
            <th>Owner</th>
            <th>Test system</th>
            <th>Used by</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="row in rows" :key="row.id">
            <tr :class="{ open: open === row.id }">
              <td>
                <el-button :aria-expanded="open === row.id" link type="primary" @click="show(row)"
                  >{{ row.name }}
                </el-button>
                <span v-if="row.state !== 'known'" class="mark">{{ row.state }}</span>
                <div v-if="row.note" class="quiet">{{ row.note }}</div>
              </td>
              <td>{{ row.access }}</td>
              <td>{{ row.owner ?? 'nobody yet' }}</td>
              <td>{{ row.test_system }}</td>
              <td>{{ use(row) }}</td>
              <td class="num">
                <el-button
                  v-if="change"
                  link
                  type="primary"
                  @click="changing = changing === row.id ? null : row.id"
                >
                  Change
                </el-button>
              </td>
            </tr>
            <tr v-if="changing === row.id">
              <td colspan="6"><SystemForm :system="row" @done="changing = null" /></td>
            </tr>
            <tr v-else-if="open === row.id">
              <td colspan="6"><SystemUse :number="row.id" /></td>
            </tr>
          </template>
        </tbody>
      </table>
    </Loaded>
    <ListOfSystems v-if="change" />
  </div>
</template>

<style scoped>
.mark {
  font-size: 12px;
  border: 1px dashed var(--ink-2);
  padding: 0 5px;
  margin-left: 6px;
}
</style>
