<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'

/** What breaks if a system changes: routines that run on it, and ideas that count on it. */
const props = defineProps<{ number: number }>()
const query = useQuery({
  queryKey: ['systems', 'one', () => props.number],
  queryFn: () => ask(api.GET('/api/v1/systems/{number}', { params: { path: { number: props.number } } })),
})
const data = query.data
const hidden = (all: number, seen: number): string =>
  all > seen ? ` and ${all - seen} that you may not see` : ''
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="two">
      <section>
        <h2>What breaks if this changes</h2>
        <p>
          <router-link :to="`/uses/system/${number}`"
            >What hangs on it, and what would stop without it</router-link
          >
        </p>
        <p v-if="!data.all_routines" class="quiet">No routine runs on it.</p>
        <ul v-else>
          <li v-for="one in data.routines" :key="one.id">
            <router-link :to="`/workshop/routines/${one.id}`">{{ one.name }}</router-link>
            <span class="quiet">
              for <router-link :to="`/ideas/${one.idea_id}`">I-{{ one.idea_id }}</router-link></span
            >
          </li>
          <li v-if="data.all_routines > data.routines.length" class="quiet">
            {{ hidden(data.all_routines, data.routines.length) }}
          </li>
        </ul>
      </section>
      <section>
        <h2>Ideas that count on it</h2>
        <p v-if="!data.all_ideas" class="quiet">None names it.</p>
        <ul v-else>
          <li v-for="one in data.ideas" :key="one.id">
            <router-link :to="`/ideas/${one.id}?sheet=sizing`">I-{{ one.id }} {{ one.title }}</router-link>
            <span class="quiet"> {{ one.stage }}</span>
          </li>
          <li v-if="data.all_ideas > data.ideas.length" class="quiet">
            {{ hidden(data.all_ideas, data.ideas.length) }}
          </li>
        </ul>
        <p class="quiet">Entered by {{ data.made_by }}, <When :at="data.made_at" day />.</p>
      </section>
    </div>
  </Loaded>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 16px;
}
</style>
