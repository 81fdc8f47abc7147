<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useRoute } from 'vue-router'
import MarginNotes from '@/shared/MarginNotes.vue'
import Sheets from '@/shared/Sheets.vue'

/** What ideas are asked, ranked, moved and thanked by: each set in versions. */
const route = useRoute()
const SHEETS = [
  { key: 'interviews', name: 'Interviews', page: defineAsyncComponent(() => import('./InterviewRules.vue')) },
  {
    key: 'factors',
    name: 'Factors',
    page: defineAsyncComponent(() => import('./FactorRules.vue')),
  },
  { key: 'cases', name: 'Cases', page: defineAsyncComponent(() => import('./CaseRules.vue')) },
  { key: 'rates', name: 'Rates', page: defineAsyncComponent(() => import('@/rates/BeforeRules.vue')) },
  { key: 'stages', name: 'Stages', page: defineAsyncComponent(() => import('./StageRules.vue')) },
  { key: 'browsing', name: 'Colleagues', page: defineAsyncComponent(() => import('./BrowsingRules.vue')) },
  { key: 'thanks', name: 'Thanks', page: defineAsyncComponent(() => import('./ThanksRules.vue')) },
  { key: 'helped', name: 'Ranking', page: defineAsyncComponent(() => import('./HelpedRules.vue')) },
]
const sheet = computed(() => SHEETS.find((one) => one.key === route.query.sheet) ?? SHEETS[0]!)
</script>

<template>
  <div class="stack">
    <div>
      <p class="quiet"><router-link to="/house">House rules</router-link></p>
      <h1>How ideas come in and move</h1>
      <p class="lead">
        What people are asked, how ideas are looked at, sized, ranked and counted, how long a stage may take,
        what is thanked for, and what counts as help.
      </p>
    </div>
    <Sheets
      label="Sheets"
      :sheets="SHEETS.map((one) => ({ key: one.key, words: one.name, query: { sheet: one.key } }))"
      :now="sheet.key"
    />
    <component :is="sheet.page" />
    <MarginNotes>
      <section class="stack tight">
        <h2>Every change is a version</h2>
        <p class="quiet">
          It says who made it, when and why. What was handed in before keeps what it was reckoned by until
          somebody reckons it anew on purpose.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
