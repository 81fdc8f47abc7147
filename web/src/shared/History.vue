<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import MarginNotes from './MarginNotes.vue'
import When from './When.vue'

/** What happened to an object, in the margin. */
const props = defineProps<{
  subject:
    'idea' | 'routine' | 'host' | 'robot' | 'run' | 'release' | 'rollout' | 'person' | 'area' | 'secret'
  number: number
  about: string
}>()
// Nothing hangs on a run or on a person.
const hangs = (subject: string): boolean => !['run', 'person', 'rollout'].includes(subject)
const query = useQuery({
  queryKey: [`${props.about}`, 'history', props.subject, props.number],
  queryFn: () =>
    ask(
      api.GET('/api/v1/history/{subject}/{number}', {
        params: { path: { subject: props.subject, number: props.number } },
      }),
    ),
})
</script>

<template>
  <MarginNotes :holds="!!query.data.value?.length">
    <p v-if="hangs(subject)" class="uses">
      <router-link :to="`/uses/${subject}/${number}`"
        >What hangs on it, and what would stop without it</router-link
      >
    </p>
    <section v-if="query.data.value?.length" class="stack tight">
      <h2>What happened</h2>
      <ol>
        <li v-for="line in query.data.value" :key="line.id">
          <span>{{ line.words }}</span>
          <div class="quiet"><When :at="line.at" />, {{ line.who }}</div>
        </li>
      </ol>
    </section>
  </MarginNotes>
</template>

<style scoped>
.uses {
  font-size: 13px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--hair);
}
</style>
