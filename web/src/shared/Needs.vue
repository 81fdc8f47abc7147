<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Glyph from './Glyph.vue'

/** Needs, each met or not, with the fact and what mends it. */
defineProps<{ needs: Schemas['Need'][] }>()
</script>

<template>
  <ul class="needs">
    <li v-for="need in needs" :key="need.key" :class="{ unmet: !need.met }">
      <Glyph :state="need.met ? 'met' : 'unmet'" :word="need.met ? 'met' : 'not met'" bare />
      <div>
        <span class="words">{{ need.words }}</span>
        <div class="quiet">{{ need.fact }}</div>
        <div v-if="!need.met && need.mend">
          <router-link v-if="need.link" :to="need.link">{{ need.mend }}</router-link>
          <template v-else>{{ need.mend }}</template>
        </div>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.needs {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
}
.unmet .words {
  font-weight: 600;
}
</style>
