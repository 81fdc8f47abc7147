<script setup lang="ts">
import type { Schemas } from '@/api/client'
import When from '@/shared/When.vue'

/** What colleagues said about a page, the latest first, for those who look after it. */
defineProps<{ said: Schemas['PageWord'][] }>()
const NEWEST = 100
const how = (one: Schemas['PageWord']) =>
  ({ thanks: 'says thanks', wish: 'it would help me if', rating: `${one.marks} of 5 marks` })[one.kind]
</script>

<template>
  <section>
    <h2>What colleagues said</h2>
    <p v-if="!said.length" class="quiet">
      Nothing yet. What they say goes to the idea as well: thanks and marks as voices, wishes as amendments.
    </p>
    <ul v-else class="words">
      <li v-for="one in said" :key="one.id">
        <span class="quiet"
          >{{ one.person }}, <When :at="one.at" />: {{ how(one) }}{{ one.kind === 'wish' ? ' …' : '' }}</span
        >
        <div v-if="one.remark">{{ one.remark }}</div>
        <div v-if="one.kind === 'wish' && one.idea_id">
          became <router-link :to="`/ideas/${one.idea_id}`">I-{{ one.idea_id }} {{ one.idea }}</router-link>
        </div>
      </li>
    </ul>
    <p v-if="said.length === NEWEST" class="quiet">The newest {{ NEWEST }}.</p>
  </section>
</template>

<style scoped>
.words {
  list-style: none;
  margin: 0;
  padding: 0;
}
.words li {
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
}
</style>
