<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ProblemError } from '@/api/client'
import Shell from './Shell.vue'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const open = computed(() => route.meta.open === true)
const ready = ref(false)
void router.isReady().then(() => (ready.value = true))

// Whatever call finds that the session has ended, the way leads to the sign-in and back.
queries.getQueryCache().subscribe((event) => {
  const error = event.type === 'updated' ? event.query.state.error : null
  if (error instanceof ProblemError && error.status === 401 && !open.value) {
    void router.replace({ path: '/sign-in', query: { to: route.fullPath } })
  }
})
watch(open, (now) => now && queries.clear())
</script>

<template>
  <router-view v-if="ready && open" />
  <Shell v-else-if="ready" />
</template>
