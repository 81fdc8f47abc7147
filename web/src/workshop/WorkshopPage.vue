<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { later } from '@/shared/later'
import { useMe } from '@/shared/session'
import PackageNotes from './PackageNotes.vue'
import Releases from './Releases.vue'
import Routines from './Routines.vue'
import Sheets, { type Sheet } from '@/shared/Sheets.vue'

const ManagedPages = later(() => import('@/selfservice/ManagedPages.vue'))

/** Routines, packages and pages: what runs, what was released, what colleagues start themselves. */
const route = useRoute()
const { may } = useMe()
const TABS = { routines: Routines, packages: Releases, pages: ManagedPages }
type Tab = keyof typeof TABS
const tab = computed<Tab>(() =>
  route.query.tab === 'packages' || route.query.tab === 'pages' ? route.query.tab : 'routines',
)
const SHEETS: readonly Sheet[] = [
  { key: 'routines', words: 'Routines', query: {} },
  { key: 'packages', words: 'Packages', query: { tab: 'packages' } },
  { key: 'pages', words: 'Self-service pages', query: { tab: 'pages' } },
]
</script>

<template>
  <component :is="TABS[tab]">
    <template #acts>
      <router-link v-if="may('routine.make')" to="/workshop/routines/new" class="button filled"
        >Set up a routine</router-link
      >
    </template>
    <template #tabs>
      <Sheets label="Workshop" :sheets="SHEETS" :now="tab" />
    </template>
    <PackageNotes />
  </component>
</template>
