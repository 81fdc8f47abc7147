<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { nextTick, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import When from '@/shared/When.vue'

/** The log as it comes: only new lines are asked for. */
const props = defineProps<{ run: number; live: boolean }>()
const lines = ref<Schemas['LogLine'][]>([])
const place = ref<HTMLElement | null>(null)

const query = useQuery({
  queryKey: ['runs', 'log', () => props.run],
  queryFn: async () => {
    let total: number
    do {
      const after = lines.value.length
      const more = await ask(
        api.GET('/api/v1/runs/{number}/log', { params: { path: { number: props.run }, query: { after } } }),
      )
      lines.value.push(...more.lines.filter((line) => line.n > lines.value.length))
      total = more.total
      if (!more.lines.length) break
    } while (lines.value.length < total)
    return lines.value.length
  },
})
watch(
  () => lines.value.length,
  async () => {
    const box = place.value
    const atEnd = box ? box.scrollHeight - box.scrollTop - box.clientHeight < 60 : false
    await nextTick()
    if (box && atEnd && props.live) box.scrollTop = box.scrollHeight
  },
)
</script>

<template>
  <p v-if="!lines.length" class="quiet">
    {{ query.isPending.value ? 'Reading …' : live ? 'Nothing logged yet.' : 'It logged nothing.' }}
  </p>
  <div v-else ref="place" class="log" tabindex="0" aria-label="Log lines">
    <div v-for="line in lines" :key="line.n" :class="line.level">
      <span class="at"><When :at="line.at" clock /></span>
      <span v-if="line.level !== 'info'" class="level">{{ line.level }}</span>
      {{ line.text }}
    </div>
  </div>
</template>

<style scoped>
.log {
  max-height: 300px;
  overflow: auto;
  background: var(--margin);
  padding: 8px 12px;
  font-size: 13px;
  overflow-wrap: anywhere;
}
.at {
  color: var(--ink-2);
  margin-right: 10px;
  font-variant-numeric: tabular-nums;
}
.level {
  font-weight: 600;
  margin-right: 6px;
}
.caution .level {
  color: var(--care);
}
.fault .level {
  color: var(--bad);
}
.output .level {
  color: var(--ink-2);
}
</style>
