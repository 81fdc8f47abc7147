<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { later } from '@/shared/later'
import FactFields from './FactFields.vue'
import type { FactSheet } from './factSheet'
import MendsField from './MendsField.vue'
import { GROUPS } from './sizingFields'

const ArrivesField = later(() => import('./ArrivesField.vue'))

const PeaksField = later(() => import('./PeaksField.vue'))
const SystemsField = later(() => import('./SystemsField.vue'))

/** The facts of a sizing: those that its sheet has, which are all for the team and some for an asked expert. */
const props = defineProps<{
  sheet: FactSheet
  systems: Schemas['SystemChoice'][]
  /** What comes in each month, as reckoned. */
  months: string[] | null
  roles?: readonly string[]
  points?: Record<string, string>
  explain?: boolean
}>()
const groups = computed(() =>
  GROUPS.map((group) => ({
    ...group,
    fields: group.fields
      .filter((one) => props.sheet.has(one.field))
      .map((one) => (one.field === 'role' ? { ...one, choices: props.roles } : one)),
  })).filter((group) => group.fields.length),
)
</script>

<template>
  <section v-for="group in groups" :key="group.name">
    <h2>{{ group.name }}</h2>
    <FactFields :sheet="sheet" :fields="group.fields" :points="points" :explain="explain" />
  </section>
  <section v-if="sheet.has('peaks')">
    <h2>How the year goes</h2>
    <PeaksField :sheet="sheet" :months="months" />
  </section>
  <div class="two">
    <div class="stack tight">
      <template v-if="sheet.has('systems')">
        <h2>Systems it touches</h2>
        <SystemsField :sheet="sheet" :known="systems" />
      </template>
      <template v-if="sheet.has('arrives')">
        <h2>What it arrives as, by parts</h2>
        <ArrivesField :sheet="sheet" />
      </template>
    </div>
    <div v-if="sheet.has('mends')" class="stack tight">
      <h2>What it should mend</h2>
      <MendsField :sheet="sheet" />
    </div>
  </div>
</template>
