<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useMe } from '@/shared/session'
import PackageNotes from './PackageNotes.vue'
import Releases from './Releases.vue'
import Routines from './Routines.vue'
import Sheets, { type Sheet } from '@/shared/Sheets.vue'

/** Routines and packages: what runs, what was released. */
const route = useRoute()
const { may } = useMe()
const tab = computed(() => (route.query.tab === 'packages' ? 'packages' : 'routines'))
const SHEETS: readonly Sheet[] = [
  { key: 'routines', words: 'Routines', query: {} },
  { key: 'packages', words: 'Packages', query: { tab: 'packages' } },
]
</script>

<template>
  <component :is="tab === 'packages' ? Releases : Routines">
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
