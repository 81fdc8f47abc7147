<script setup lang="ts">
import { api, ask } from '@/api/client'
import ListIn from '@/shared/ListIn.vue'

/** Systems from a list. */
const look = (text: string) => ask(api.POST('/api/v1/systems/list/look', { body: { text } }))
const bring = (text: string) => ask(api.POST('/api/v1/systems/list', { body: { text } }))
</script>

<template>
  <ListIn title="Bring in a list" head="System" label="List of systems" :look="look" :bring="bring">
    <p class="quiet">
      A CSV file with a column for system and access; owner (mail address), test system and note if known.
      What is taken out above comes in again.
    </p>
  </ListIn>
</template>
