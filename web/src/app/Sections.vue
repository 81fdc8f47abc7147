<script setup lang="ts">
import { useRoute } from 'vue-router'
import { usePlaces } from '@/shared/places'

/** The sections that the reader may open. */
const route = useRoute()
const { sections } = usePlaces()
</script>

<template>
  <nav id="sections" aria-label="Sections">
    <router-link
      v-for="section in sections"
      :key="section.name"
      :to="section.link"
      :class="{ on: route.meta.section === section.name }"
      :aria-current="route.meta.section === section.name ? 'page' : undefined"
      >{{ section.name }}</router-link
    >
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  flex-wrap: wrap;
}
nav a {
  color: var(--band-ink-2);
  padding: 4px 15px 7px;
}
nav a:hover {
  color: var(--band-ink);
  background: var(--band-2);
  text-decoration: none;
}
nav a.on {
  background: var(--sheet);
  color: var(--ink);
  font-weight: 600;
}
@media (max-width: 700px) {
  nav a {
    min-height: 40px;
    display: inline-flex;
    align-items: center;
    padding: 0 12px;
  }
}
</style>
