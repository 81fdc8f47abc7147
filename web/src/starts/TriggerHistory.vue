<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'

/** What became of each nominal time of a start: started, merged, skipped or missed, and why. */
const props = defineProps<{ routine: number; trigger: number }>()
const query = useInfiniteQuery({
  queryKey: ['routines', 'history', () => props.trigger],
  initialPageParam: undefined as number | undefined,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/routines/{number}/triggers/{trigger}/history', {
        params: {
          path: { number: props.routine, trigger: props.trigger },
          query: pageParam === undefined ? {} : { before: pageParam },
        },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const glyphs: Record<string, string> = {
  started: 'heard',
  merged: 'done',
  skipped: 'cancelled',
  missed: 'lapsed',
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
    <template #empty>Its time has not come yet, so nothing happened so far.</template>
    <table class="ledger" data-history>
      <thead>
        <tr>
          <th style="width: 150px">Meant for</th>
          <th style="width: 110px">What became</th>
          <th>Why</th>
          <th>Run</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id">
          <td><When :at="row.nominal_at" /></td>
          <td><Glyph :state="glyphs[row.what] ?? 'done'" :word="row.what" /></td>
          <td>
            {{ row.why
            }}<template v-if="row.at !== row.nominal_at && row.what === 'started'">
              → <When :at="row.at"
            /></template>
          </td>
          <td>
            <router-link v-if="row.run_id" :to="`/runs/${row.run_id}`"
              >R-{{ row.run_id }} <Glyph v-if="row.run_state" :state="row.run_state"
            /></router-link>
            <span v-else class="quiet">none</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="query.hasNextPage.value">
      <el-button :disabled="query.isFetchingNextPage.value" @click="query.fetchNextPage()"
        >Earlier ones</el-button
      >
    </p>
  </Loaded>
</template>
