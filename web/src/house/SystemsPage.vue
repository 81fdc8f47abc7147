<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAddressed } from '@/shared/address'
import { several } from '@/shared/format'
import HouseTabs from '@/shared/HouseTabs.vue'
import ListFacet from '@/shared/ListFacet.vue'
import ListPage from '@/shared/ListPage.vue'
import { useMe } from '@/shared/session'
import { useList } from '@/shared/useList'
import { later } from '@/shared/later'

const ListOfSystems = later(() => import('./ListOfSystems.vue'))
const SystemForm = later(() => import('./SystemForm.vue'))
const SystemUse = later(() => import('./SystemUse.vue'))

/** The systems that the work touches: how a robot gets at each, who owns it, what breaks if it changes. */
type Row = Schemas['InventoryRow']
const { may } = useMe()
const list = useList<Row>({
  key: ['systems', 'list'],
  filters: { text: 'words', state: 'words' },
  columns: [
    { key: 'access', name: 'Access' },
    { key: 'owner', name: 'Owner' },
    { key: 'test', name: 'Test system' },
    { key: 'use', name: 'Used by' },
  ],
  out: '/api/v1/systems/export',
  endings: ['csv'],
  ask: async (wanted) => ({ rows: await ask(api.GET('/api/v1/systems', { params: { query: wanted } })) }),
})
const open = useAddressed('system')
const adding = ref(false)
const changing = ref(false)
const change = computed(() => may('system.change'))
const fresh = computed(() => list.rows.value.filter((row) => row.state === 'new').length)
const STATES = ['new', 'known', 'retired'].map((value) => ({ value, words: value }))
function show(row: Row, forms = false) {
  const other = open.value !== row.id || changing.value !== forms
  open.value = other ? row.id : null
  changing.value = other && forms
}
const use = (row: Row): string =>
  [
    row.ideas ? several(row.ideas, 'idea', 'ideas') : '',
    row.routines ? several(row.routines, 'routine', 'routines') : '',
  ]
    .filter(Boolean)
    .join(', ') || 'nothing yet'
</script>

<template>
  <ListPage :list="list" title="Systems" first="System" words="Name, note or owner" :open="open">
    <template #lead>What the work touches, how a robot gets at it, and what breaks if it changes.</template>
    <template #acts>
      <el-button v-if="change && !adding" @click="adding = true">Enter a system</el-button>
    </template>
    <template #tabs>
      <HouseTabs />
      <SystemForm v-if="adding" @done="adding = false" />
    </template>
    <template #facets>
      <ListFacet :list="list" name="state" label="State" nothing="every state" :options="STATES" />
    </template>
    <template #chosen>
      <p v-if="fresh" class="note care">
        {{ several(fresh, 'system was', 'systems were') }} named on sizings and not looked at yet; whoever
        changes one makes it known.
      </p>
    </template>
    <template #empty="{ filtered }">
      {{ filtered ? 'No system is like that.' : 'No system is entered yet.' }}
      A system that a sizing names is entered by itself, marked new.
    </template>
    <template #first="{ row }">
      <el-button :aria-expanded="open === row.id && !changing" link type="primary" @click="show(row)"
        >{{ row.name }}
      </el-button>
      <span v-if="row.state !== 'known'" class="mark">{{ row.state }}</span>
      <div v-if="row.note" class="quiet">{{ row.note }}</div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'access'">{{ row.access }}</template>
      <template v-else-if="column.key === 'owner'">{{ row.owner ?? 'nobody yet' }}</template>
      <template v-else-if="column.key === 'test'">{{ row.test_system }}</template>
      <span v-else class="spread">
        {{ use(row) }}
        <el-button v-if="change" link type="primary" @click="show(row, true)">Change</el-button>
      </span>
    </template>
    <template #opened="{ row }">
      <SystemForm v-if="changing" :system="row" @done="changing = false" />
      <SystemUse v-else :number="row.id" />
    </template>
    <template #after><ListOfSystems v-if="change" /></template>
  </ListPage>
</template>

<style scoped>
.mark {
  font-size: 12px;
  border: 1px dashed var(--ink-2);
  padding: 0 5px;
  margin-left: 6px;
}
</style>
