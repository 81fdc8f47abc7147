<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import Fold from '@/shared/Fold.vue'
import { several } from '@/shared/format'
import When from '@/shared/When.vue'

/** Routines that went out of use: their pages, runs and starts stay to be read. */
const query = useQuery({
  queryKey: ['routines', 'retired'],
  queryFn: () => ask(api.GET('/api/v1/routines/retired')),
})
</script>

<template>
  <Fold
    v-if="query.data.value?.length"
    :words="`${several(query.data.value.length, 'retired routine', 'retired routines')}${
      query.data.value.length === 200 ? ', the last of them' : ''
    }`"
  >
    <ul class="plain">
      <li v-for="one in query.data.value" :key="one.id">
        <router-link :to="`/workshop/routines/${one.id}`">{{ one.name }}</router-link>
        <span class="quiet"> in {{ one.area }}, since <When :at="one.retired_at" day /></span>
      </li>
    </ul>
  </Fold>
</template>
