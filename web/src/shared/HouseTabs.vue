<script setup lang="ts">
import { usePlaces } from './places'

/** The subjects of the house rules that the reader may see. */
const { rules } = usePlaces()
</script>

<template>
  <nav class="tabs" aria-label="House rules">
    <router-link to="/house" active-class="" exact-active-class="on">All rules</router-link>
    <router-link v-for="one in rules" :key="one.link" :to="one.link" active-class="on">{{
      one.short
    }}</router-link>
  </nav>
</template>

<style scoped>
.tabs {
  column-gap: 13px;
}
</style>
