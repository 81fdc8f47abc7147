<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import InvitePerson from '@/shared/InvitePerson.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import GroupsList from '@/access/GroupsList.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import ListOfPeople from './ListOfPeople.vue'

/** Everybody, what they hold, and who was invited and has not come. */
const route = useRoute()
const router = useRouter()
const { may } = useMe()
// Begun from elsewhere as well, by the address.
const inviting = ref(route.query.add === 'person')
const listing = ref(false)
const text = computed({
  get: () => String(route.query.text ?? ''),
  set: (now: string) => void router.replace({ query: { ...route.query, text: now || undefined } }),
})
const state = computed(() => String(route.query.state ?? ''))
const query = useQuery({
  queryKey: ['people', 'all'],
  queryFn: () => ask(api.GET('/api/v1/people/all')),
})
const states = computed(() => {
  const all = query.data.value ?? []
  return (['active', 'invited', 'left'] as const)
    .map((name) => ({ name, count: all.filter((one) => one.state === name).length }))
    .filter((one) => one.count)
})
const rows = computed(() => {
  const wanted = text.value.trim().toLowerCase()
  return (query.data.value ?? []).filter(
    (one) =>
      (state.value ? one.state === state.value : one.state !== 'left') &&
      `${one.name} ${one.email} ${one.division ?? ''} ${one.roles ?? ''} ${one.groups_in ?? ''}`
        .toLowerCase()
        .includes(wanted),
  )
})
const shown = computed(() => rows.value.slice(0, 200))
function choose(name: string) {
  void router.replace({ query: { ...route.query, state: state.value === name ? undefined : name } })
}
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>People and groups</h1>
        <p class="lead">Who is here, what they hold, and who was asked in.</p>
      </div>
      <div class="row">
        <a class="button" href="/api/v1/people/export.csv">Export as CSV</a>
        <el-button v-if="may('person.make') && may('person.change')" @click="listing = !listing">
          Bring in a list
        </el-button>
        <el-button type="primary" @click="inviting = !inviting">Invite somebody</el-button>
      </div>
    </div>
    <HouseTabs />
    <ListOfPeople v-if="listing" @leave="listing = false" />
    <InvitePerson v-if="inviting" @done="inviting = false" @leave="inviting = false" />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <section class="stack tight">
        <div class="row">
          <el-input
            v-model="text"
            placeholder="Name, division, role, group"
            aria-label="Find people"
            style="--chars: 32"
          />
          <el-button
            v-for="one in states.length > 1 ? states : []"
            :key="one.name"
            class="chip"
            :class="{ on: state === one.name }"
            :aria-pressed="state === one.name"
            @click="choose(one.name)"
          >
            {{ one.name }} {{ one.count }}
          </el-button>
          <span class="quiet">{{ rows.length }} people{{ state ? '' : ', without those who left' }}</span>
        </div>
        <p v-if="!rows.length" class="note">Nobody fits. Take the filter away, or invite them.</p>
        <table v-else class="ledger">
          <thead>
            <tr>
              <th>Name</th>
              <th>Division</th>
              <th>Roles and groups</th>
              <th class="num">Last seen</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in shown" :key="one.id">
              <td>
                <router-link class="whole" :to="`/house/people/${one.id}`">{{ one.name }}</router-link>
                <div class="quiet">{{ one.email }}</div>
              </td>
              <td>{{ one.division ?? '–' }}</td>
              <td>
                {{ one.roles ?? (one.groups_in ? '' : 'no role') }}
                <div v-if="one.groups_in" class="quiet">in {{ one.groups_in }}</div>
                <div v-if="one.away && one.away_until" class="quiet care">
                  away until {{ one.away_until }}{{ one.stand_in ? `, ${one.stand_in} stands in` : '' }}
                </div>
              </td>
              <td class="num">
                <When v-if="one.seen_at" :at="one.seen_at" />
                <template v-else-if="one.state === 'invited'">
                  <span class="care">invited</span>
                  <div v-if="one.invited_until" class="quiet">until <When :at="one.invited_until" /></div>
                </template>
                <template v-else>{{ one.state === 'left' ? 'left' : 'never' }}</template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="rows.length > shown.length" class="quiet">
          The first {{ shown.length }} of {{ rows.length }}; type to find others.
        </p>
      </section>
      <GroupsList v-if="may('person.see')" />
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How access comes about</h2>
        <p class="quiet">
          A role allows things. It is held for the whole company, or for one area and those below it, by a
          person or by a group. Everybody may hand in ideas, and sees the ideas they have a part in.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
