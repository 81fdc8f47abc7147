<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'

/** The calls of a routine's address: from where, and what each started or why it was refused. */
const props = defineProps<{ routine: number }>()
const query = useInfiniteQuery({
  queryKey: ['routines', 'calls', () => props.routine],
  initialPageParam: undefined as number | undefined,
  queryFn: ({ pageParam }) =>
    ask(
      api.GET('/api/v1/routines/{number}/calls', {
        params: { path: { number: props.routine }, query: { before: pageParam } },
      }),
    ),
  getNextPageParam: (last) => last.next ?? undefined,
  refetchInterval: 10_000,
})
const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? [])
const SHAPES = { started: 'done', repeated: 'noted', refused: 'unmet' } as const
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
    <template #empty><p class="quiet">Nothing called it within the last 90 days.</p></template>
    <table class="ledger" aria-label="Calls of its address">
      <tbody>
        <tr v-for="one in rows" :key="one.id">
          <td style="width: 120px"><Glyph :state="SHAPES[one.outcome]" :word="one.outcome" /></td>
          <td>
            <router-link v-if="one.run_id" class="whole" :to="`/runs/${one.run_id}`"
              >R-{{ one.run_id }}</router-link
            >
            <span v-if="one.why" class="bad">{{ one.why }}</span>
            <div class="quiet">from {{ one.came_from }}</div>
          </td>
          <td class="num"><When :at="one.at" /></td>
        </tr>
      </tbody>
    </table>
    <p v-if="query.hasNextPage.value">
      <el-button @click="query.fetchNextPage()">Show more</el-button>
    </p>
  </Loaded>
</template>
