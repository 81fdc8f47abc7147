<script setup lang="ts">
import { ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { dayText, several } from '@/shared/format'
import HouseTabs from '@/shared/HouseTabs.vue'
import ListFacet from '@/shared/ListFacet.vue'
import ListPage from '@/shared/ListPage.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import { useMe } from '@/shared/session'
import { useList } from '@/shared/useList'
import When from '@/shared/When.vue'
import { later } from '@/shared/later'

const ListOfPeople = later(() => import('./ListOfPeople.vue'))
const InvitePerson = later(() => import('@/shared/InvitePerson.vue'))
const GroupsList = later(() => import('@/access/GroupsList.vue'))

/** Everybody, what they hold, and who was invited and has not come. */
type Row = Schemas['PersonRow']
const route = useRoute()
const { may } = useMe()
// Begun from elsewhere as well, by the address.
const inviting = ref(route.query.add === 'person')
const listing = ref(false)
const first = ref<Schemas['PeoplePage']>()
const list = useList<Row>({
  key: ['people', 'all'],
  filters: { text: 'words', state: 'words' },
  columns: [
    { key: 'division', name: 'Division' },
    { key: 'holds', name: 'Roles and groups' },
    { key: 'seen', name: 'Last seen', num: true },
  ],
  out: '/api/v1/people/export',
  endings: ['csv'],
  ask: async (wanted, _, after) => {
    const page = await ask(api.GET('/api/v1/people/all', { params: { query: { ...wanted, after } } }))
    if (!after) first.value = page
    return page
  },
})
const STATES = ['active', 'invited', 'left'] as const
const states = () =>
  STATES.filter((value) => first.value?.counts[value]).map((value) => ({
    value,
    // How many there are in all would mislead beside what words narrow.
    words: list.wanted.value.text ? value : `${value}, ${first.value?.counts[value]}`,
  }))
</script>

<template>
  <ListPage :list="list" title="People and groups" first="Name" words="Name, division, role, group">
    <template #lead>
      <template v-if="first">
        {{ several(first.counts.active ?? 0, 'person is here', 'people are here')
        }}{{
          first.counts.invited
            ? `, ${several(first.counts.invited, 'was asked in and has', 'were asked in and have')} not come yet`
            : ''
        }}.
      </template>
    </template>
    <template #acts>
      <el-button v-if="may('person.make') && may('person.change')" @click="listing = !listing">
        Bring in a list
      </el-button>
      <el-button type="primary" @click="inviting = !inviting">Invite somebody</el-button>
    </template>
    <template #tabs>
      <HouseTabs />
      <ListOfPeople v-if="listing" @leave="listing = false" />
      <InvitePerson v-if="inviting" @done="inviting = false" @leave="inviting = false" />
    </template>
    <template #facets>
      <ListFacet :list="list" name="state" label="State" nothing="here or asked in" :options="states()" />
    </template>
    <template #empty>Nobody fits. Take the filter away, or invite them.</template>
    <template #first="{ row }">
      <router-link class="whole" :to="`/house/people/${row.id}`">{{ row.name }}</router-link>
      <div class="quiet">{{ row.email }}</div>
    </template>
    <template #cell="{ row, column }">
      <template v-if="column.key === 'division'">{{ row.division ?? '–' }}</template>
      <template v-else-if="column.key === 'holds'">
        {{ row.roles ?? (row.groups_in ? '' : 'no role') }}
        <div v-if="row.groups_in" class="quiet">in {{ row.groups_in }}</div>
        <div v-if="row.away && row.away_until" class="quiet care">
          away until {{ dayText(row.away_until) }}{{ row.stand_in ? `, ${row.stand_in} stands in` : '' }}
        </div>
      </template>
      <When v-else-if="row.seen_at" :at="row.seen_at" />
      <template v-else-if="row.state === 'invited'">
        <span class="care">invited</span>
        <div v-if="row.invited_until" class="quiet">until <When :at="row.invited_until" /></div>
      </template>
      <template v-else>{{ row.state === 'left' ? 'left' : 'never' }}</template>
    </template>
    <template #after>
      <GroupsList v-if="may('person.see')" />
      <MarginNotes>
        <section class="stack tight">
          <h2>How access comes about</h2>
          <p class="quiet">
            A role allows things. It is held for the whole company, or for one area and those below it, by a
            person or by a group. Everybody may hand in ideas, and sees the ideas they have a part in.
          </p>
        </section>
      </MarginNotes>
    </template>
  </ListPage>
</template>
