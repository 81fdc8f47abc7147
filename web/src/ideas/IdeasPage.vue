<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import DivisionField from '@/shared/DivisionField.vue'
import ListFacet from '@/shared/ListFacet.vue'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import SavedViews from '@/shared/SavedViews.vue'
import { useMe } from '@/shared/session'
import { useList } from '@/shared/useList'
import IdeaCell from './IdeaCell.vue'
import { STAGES } from '@/api/words'
import { columnsFor, FILTERS, rareOf, sortsFor, USUAL, type Row } from './lists'
import { later } from '@/shared/later'
import Sheets from '@/shared/Sheets.vue'

const IdeaFilters = later(() => import('./IdeaFilters.vue'))
const ManyIdeas = later(() => import('./ManyIdeas.vue'))
const MyIdeas = later(() => import('./MyIdeas.vue'))
const StageMap = later(() => import('./StageMap.vue'))

/** All ideas that one may see: narrowed, ordered, and acted on many at once; by stage; or one's own. */
const { everywhere, may } = useMe()
const counts = ref<Schemas['StageCount'][]>([])
// Asked for by worth, a list leaves out the ideas whose worth its reader may not see.
const apart = ref(false)
const list = useList<Row>({
  key: ['ideas', 'list'],
  filters: FILTERS,
  columns: () => columnsFor(may('idea.see')),
  usual: USUAL,
  sorts: () => sortsFor(may('idea.see')),
  out: '/api/v1/ideas/export',
  enabled: (one) => !one('mine') && !one('map'),
  ask: async (wanted, sort, after) => {
    const page = await ask(api.GET('/api/v1/ideas', { params: { query: { ...wanted, sort, after } } }))
    if (!after) counts.value = page.stages
    apart.value = page.figures_only
    return page
  },
})
const { one, set, wanted, ticked } = list
const tab = computed(() => (one('mine') === '1' ? 'mine' : one('map') === '1' ? 'map' : 'list'))
const tabs = computed(() =>
  [
    { key: 'list', words: 'All that I may see', query: {} as Record<string, string>, shown: true },
    { key: 'map', words: 'By stage', query: { map: '1' }, shown: may('idea.see') },
    { key: 'mine', words: 'My ideas', query: { mine: '1' }, shown: true },
  ].filter((entry) => entry.shown),
)
const narrowed = computed(() => Object.keys(wanted.value).some((name) => name !== 'stage'))
const stages = computed(() =>
  STAGES.map((name) => ({ name, ideas: counts.value.find((row) => row.stage === name)?.ideas ?? 0 }))
    .filter((row) => row.ideas || row.name === wanted.value.stage)
    // How many there are in all would mislead beside what is narrowed otherwise.
    .map((row) => ({ value: row.name, words: narrowed.value ? row.name : `${row.name} (${row.ideas})` })),
)
// What became of the last act stays to be read when the ideas leave the list by it.
const acted = ref(false)
const lead = computed(() =>
  !may('idea.see')
    ? 'Your ideas, those you have a part in, and those of colleagues as far as the house shows them. Join what you do as well.'
    : tab.value === 'map'
      ? 'Where everything stands on its way, how long, and where it is stuck.'
      : apart.value
        ? 'By what they are worth: those whose worth you may not see are left out.'
        : 'Everything handed in, by what is in reach.',
)
</script>

<template>
  <ListPage
    :list="list"
    title="Ideas"
    first="Idea"
    words="Words anywhere, also in files; or I-104"
    :set="rareOf(wanted)"
    ticks
    :name-of="(row) => `I-${row.id}`"
  >
    <template #lead>{{ lead }}</template>
    <template #acts>
      <router-link to="/ideas/thanks">Thanks</router-link>
      <router-link v-if="everywhere('entry.make')" to="/ideas/enter">Enter one for the team</router-link>
      <router-link v-if="everywhere('entry.make')" to="/ideas/bring">Bring a list</router-link>
      <router-link to="/ideas/begin" class="button">Where do I begin?</router-link>
      <router-link to="/ideas/new" class="button filled">Hand in an idea</router-link>
    </template>
    <template #tabs>
      <Sheets label="Which ideas" :sheets="tabs" :now="tab" />
    </template>
    <template v-if="tab !== 'list'" #instead>
      <MyIdeas v-if="tab === 'mine'" />
      <StageMap v-else />
    </template>
    <template #facets>
      <ListFacet :list="list" name="stage" label="Stage" nothing="every stage" :options="stages" />
      <DivisionField
        :model-value="Number(wanted.division) || null"
        nothing="every division"
        class="division"
        @update:model-value="(now: number | null) => set({ division: now ? String(now) : undefined })"
      />
      <el-checkbox :model-value="!!wanted.late" @change="(on: unknown) => set({ late: on ? '1' : undefined })"
        >overdue</el-checkbox
      >
    </template>
    <template #more><IdeaFilters :wanted="wanted" :wide="may('idea.see')" @set="set" /></template>
    <template #views>
      <SavedViews of="ideas" :query="list.view.value" @open="list.openView" />
    </template>
    <template v-if="ticked.length || acted" #chosen>
      <ManyIdeas
        :ids="ticked"
        :reviews="may('idea.decide')"
        :places="may('idea.change')"
        @clear="((ticked = []), (acted = false))"
        @done="(left: number[]) => ((ticked = left), (acted = true))"
      />
    </template>
    <template #empty="{ filtered }">
      No idea fits this.
      <router-link v-if="!filtered" to="/ideas/new">Hand in the first one.</router-link>
    </template>
    <template #first="{ row }">
      <router-link class="whole" :to="row.stage === 'draft' ? `/ideas/new/${row.id}` : `/ideas/${row.id}`">
        I-{{ row.id }} {{ row.title || 'without a name' }}
      </router-link>
      <div class="quiet">
        {{ row.proposer }}<template v-if="row.division">, {{ row.division }}</template
        ><template v-if="row.amends_id">; a change to I-{{ row.amends_id }}</template>
      </div>
    </template>
    <template #cell="{ row, column }"><IdeaCell :idea="row" :column="column" /></template>
    <template #after>
      <MarginNotes>
        <section class="stack tight">
          <h2>How ideas are ranked</h2>
          <p class="quiet">
            Hours in reach are the yearly hours times the fit, as a range: the less is known, the wider. Ideas
            rank by the low end, so evidence lifts an idea. Open one to see its working.
          </p>
        </section>
        <section class="stack tight">
          <h2>What the words find</h2>
          <p class="quiet">
            All words must be there, each from its beginning: in names, descriptions, answers, remarks, talk,
            and in attached files and their names.
          </p>
        </section>
      </MarginNotes>
    </template>
  </ListPage>
</template>

<style scoped>
.division {
  width: 200px;
}
</style>
