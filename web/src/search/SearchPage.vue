<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'

/** All that was found of some words, by what it is. */
const route = useRoute()
const words = computed(() => String(route.query.words ?? ''))
const query = useQuery({
  queryKey: ['search', words],
  placeholderData: keepPreviousData,
  queryFn: () => ask(api.GET('/api/v1/search', { params: { query: { words: words.value, limit: 100 } } })),
})
const rows = computed(() => query.data.value?.rows ?? [])
const kinds = computed(() => [...new Set(rows.value.map((one) => one.kind))])
const TITLES: Record<string, string> = {
  idea: 'Ideas',
  file: 'Files',
  routine: 'Routines',
  run: 'Runs',
  package: 'Packages',
  robot: 'Robots',
  host: 'Hosts',
  person: 'People',
  system: 'Systems',
  area: 'Areas',
  section: 'Sections',
  'house rule': 'House rules',
  command: 'What can be done',
}
</script>

<template>
  <div class="stack">
    <div>
      <h1>Found for “{{ words }}”</h1>
      <p v-if="query.data.value" class="lead">
        {{
          query.data.value.of_all > rows.length
            ? `The nearest ${rows.length} of ${query.data.value.of_all}.`
            : `${rows.length} found.`
        }}
        <template v-if="query.data.value.misspelt">Nothing is written so; this is like it.</template>
        <router-link :to="{ path: '/ideas', query: { text: words } }"
          >Narrow it in the list of ideas</router-link
        >
      </p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!rows.length">
      <template #empty>
        Nothing that you may see is called so. Try fewer letters, or a number such as I-104 or R-12.
      </template>
      <section v-for="kind in kinds" :key="kind" class="stack tight">
        <h2>{{ TITLES[kind] ?? kind }}</h2>
        <table class="ledger" :aria-label="TITLES[kind] ?? kind">
          <tbody>
            <tr v-for="one in rows.filter((row) => row.kind === kind)" :key="one.link + one.name">
              <td>
                <router-link class="whole" :to="one.link">{{ one.ref }} {{ one.name }}</router-link>
              </td>
              <td class="quiet">{{ one.more }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </Loaded>
  </div>
</template>
