<script setup lang="ts">
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import { has } from '@/shared/words'
import ListPage from '@/shared/ListPage.vue'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'
import RetiredRoutines from './RetiredRoutines.vue'
import Rollouts from './Rollouts.vue'

/** Routines in use: what each counts for, how it went last, when it starts next. */
type Row = Schemas['RoutineRow']
const router = useRouter()
const list = useList<Row>({
  key: ['routines', 'list'],
  filters: { text: 'words' },
  columns: [
    { key: 'idea', name: 'Counts for' },
    { key: 'last', name: 'Last run', width: 150 },
    { key: 'next', name: 'Starts next', num: true },
  ],
  ask: async ({ text }) => {
    const rows = await ask(api.GET('/api/v1/routines'))
    const idea = (one: Row) => (one.idea_id ? `I-${one.idea_id} ${one.idea}` : '')
    return { rows: rows.filter((one) => has(text, one.name, one.area, one.package, idea(one))) }
  },
})
</script>

<template>
  <ListPage :list="list" title="Workshop" first="Routine" words="Name, area, package, idea">
    <template #lead>Packages are released here and set up as routines.</template>
    <template #acts><slot name="acts" /></template>
    <template #tabs><slot name="tabs" /></template>
    <template #empty="{ filtered }">
      <template v-if="filtered">No routine is like that.</template>
      <template v-else>
        No routine yet. Release a package first, then set it up in an area.
        <el-button link type="primary" @click="router.replace({ query: { tab: 'packages' } })">
          To the packages
        </el-button>
      </template>
    </template>
    <template #first="{ row }">
      <router-link class="whole" :to="`/workshop/routines/${row.id}`">{{ row.name }}</router-link>
      <span v-if="row.on_trial" class="care"> on trial</span>
      <div class="quiet">{{ row.area }}, {{ row.package }} {{ row.release_version }}</div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'idea'">
        <router-link v-if="row.idea_id" :to="`/ideas/${row.idea_id}?sheet=tally`"
          >I-{{ row.idea_id }} {{ row.idea }}</router-link
        >
        <span v-else class="quiet">no idea</span>
      </template>
      <template v-else-if="column.key === 'last'">
        <router-link v-if="row.last_run && row.last_state" :to="`/runs/${row.last_run}`"
          ><Glyph :state="row.last_state"
        /></router-link>
        <span v-else class="quiet">never ran</span>
        <div v-if="row.last_at" class="quiet"><When :at="row.last_at" /></div>
      </template>
      <When v-else-if="row.next_at" :at="row.next_at" near />
      <span v-else class="quiet">by hand only</span>
    </template>
    <template #after><Rollouts /><RetiredRoutines /><slot /></template>
  </ListPage>
</template>
