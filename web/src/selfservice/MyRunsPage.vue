<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import MyRuns from './MyRuns.vue'

/** Everything that the reader started on pages of self-service. */
const A_PAGE = 20
const query = useInfiniteQuery({
  queryKey: ['runs', 'self-service', 'mine'],
  initialPageParam: undefined as number | undefined,
  queryFn: ({ pageParam }) =>
    ask(api.GET('/api/v1/self-service/runs', { params: { query: { before: pageParam } } })),
  getNextPageParam: (last) => (last.length < A_PAGE ? undefined : last.at(-1)?.id),
})
const runs = computed(() => query.data.value?.pages.flat() ?? [])
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div class="stack">
      <div>
        <p class="quiet"><router-link to="/self-service">Self-service</router-link></p>
        <h1>What I started</h1>
      </div>
      <MyRuns v-if="runs.length" :runs="runs" />
      <p v-else class="note">
        Nothing yet. <router-link to="/self-service">Choose a page</router-link>, and what you start stands
        here with what came of it.
      </p>
      <p v-if="query.hasNextPage.value">
        <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()"
          >Earlier ones</el-button
        >
      </p>
    </div>
  </Loaded>
</template>
