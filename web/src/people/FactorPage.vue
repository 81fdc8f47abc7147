<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import SecondFactor from './SecondFactor.vue'

/** All that somebody sees whose role asks for a second factor, until it is set up. */
defineProps<{ roles: string[] }>()
const emit = defineEmits<{ done: [] }>()
const query = useQuery({ queryKey: ['people', 'profile'], queryFn: () => ask(api.GET('/api/v1/profile')) })
</script>

<template>
  <div class="stack">
    <div>
      <h1>One thing first</h1>
      <p class="lead">
        Your role {{ roles.join(' and ') }} asks for a second factor. It takes a minute; then everything you
        may see is here.
      </p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <SecondFactor v-if="query.data.value" :factor="query.data.value.second_factor" @kept="emit('done')" />
    </Loaded>
  </div>
</template>
