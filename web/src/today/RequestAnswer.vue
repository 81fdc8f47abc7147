<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import RequestRow from '@/access/RequestRow.vue'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'

/** A request for access, answered where it is met. */
const props = defineProps<{ number: number }>()
const query = useQuery({
  queryKey: ['access', 'requests'],
  queryFn: () => ask(api.GET('/api/v1/access/requests')),
})
const request = computed(() => query.data.value?.find((one) => one.id === props.number))
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!request">
    <template #empty>Somebody has answered it meanwhile.</template>
    <RequestRow v-if="request" :request="request" />
  </Loaded>
</template>
