<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Who holds a role, and for what. */
defineProps<{ holding: Schemas['HolderOut'][] }>()
</script>

<template>
  <div>
    <h3>Who holds it</h3>
    <p v-if="!holding.length" class="quiet">Nobody. It is given on a person's page.</p>
    <p v-for="one in holding" :key="one.id">
      <router-link v-if="one.person_id" :to="`/house/people/${one.person_id}`">{{ one.person }}</router-link>
      <template v-else>the group {{ one.grp }}</template>
      for {{ one.where }}
    </p>
  </div>
</template>
