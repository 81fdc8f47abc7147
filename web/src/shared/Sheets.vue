<script setup lang="ts">
/**
 * The sheets of a page. Each has an address of its own, so they are links: opened beside the page, sent to a
 * colleague, and gone back from as any page.
 */
export interface Sheet {
  key: string
  words: string
  query: Record<string, string>
}
defineProps<{ label: string; sheets: readonly Sheet[]; now: string }>()
</script>

<template>
  <nav class="tabs" :aria-label="label">
    <router-link
      v-for="one in sheets"
      :key="one.key"
      :to="{ query: one.query }"
      active-class=""
      exact-active-class=""
      :class="{ on: now === one.key }"
      :aria-current="now === one.key ? 'page' : undefined"
      >{{ one.words }}</router-link
    >
  </nav>
</template>
