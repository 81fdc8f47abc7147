<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import RequestRow from './RequestRow.vue'

/** Who asks for access: each is answered with a role for an area, or a reason. */
const query = useQuery({
  queryKey: ['access', 'requests'],
  queryFn: () => ask(api.GET('/api/v1/access/requests')),
})
</script>

<template>
  <div class="stack">
    <div>
      <h1>Access asked for</h1>
      <p class="lead">Access that people ask for, oldest first.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!query.data.value?.length">
      <template #empty
        >Nobody waits for an answer. Requests come here, and to Today, when somebody meets something that they
        may not see or do.</template
      >
      <RequestRow v-for="one in query.data.value" :key="one.id" :request="one" />
    </Loaded>
  </div>
</template>
