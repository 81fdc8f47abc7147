<script setup lang="ts">
/** Why nothing is tallied of an idea yet, and what makes it be. */
defineProps<{ idea: number; byHand?: boolean; routine: number | null; name?: string | null }>()
</script>

<template>
  <p>
    Nothing is tallied yet.
    <template v-if="byHand">
      Say below what one took before and takes after, and give the units as they come.
    </template>
    <template v-else>Entries are posted by the runs of its counting point once it is live.</template>
    <router-link v-if="routine" :to="`/workshop/routines/${routine}`">{{ name }}</router-link>
    <router-link v-else :to="`/workshop/routines/new?idea=${idea}`"
      >Set up a routine that counts for it.</router-link
    >
  </p>
</template>
