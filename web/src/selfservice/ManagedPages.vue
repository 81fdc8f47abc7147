<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { number, plural } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import { PAGE_SHAPES } from './standing'

/** The pages of self-service as those who publish them see them: whose, for whom, and how they are used. */
defineSlots<{ acts?: () => unknown; tabs?: () => unknown }>()
const query = useQuery({
  queryKey: ['routines', 'self-service', 'managed'],
  queryFn: () => ask(api.GET('/api/v1/service-pages')),
})
const rows = computed(() => query.data.value ?? [])
const lead = computed(() => {
  const open = rows.value.filter((one) => one.state === 'open' && !one.retired_at).length
  return `${open} ${plural(open, 'page is', 'pages are')} open to colleagues.`
})
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Workshop</h1>
        <p class="lead">{{ lead }}</p>
      </div>
      <div class="row"><slot name="acts" /></div>
    </div>
    <slot name="tabs" />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <table v-if="rows.length" class="ledger stacks">
        <thead>
          <tr>
            <th>Page</th>
            <th>State</th>
            <th>For</th>
            <th>Looked after by</th>
            <th class="num">Runs</th>
            <th class="num">Colleagues</th>
            <th class="num">Marks of 5</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in rows" :key="one.id">
            <td class="whole">
              <router-link :to="`/workshop/routines/${one.routine_id}/self-service`">{{
                one.title
              }}</router-link>
              <div class="quiet">{{ one.routine }}, {{ one.area }}</div>
            </td>
            <td data-head="state">
              <Glyph v-if="one.retired_at" state="retired" word="its routine is retired" />
              <Glyph v-else :state="PAGE_SHAPES[one.state]" :word="one.state" />
              <div v-if="one.why" class="quiet">{{ one.why }}</div>
            </td>
            <td data-head="for">{{ one.for_all ? 'all' : 'groups' }}</td>
            <td data-head="looked after by">{{ one.keeper }}</td>
            <td class="num" data-head="runs">{{ number(one.runs) }}</td>
            <td class="num" data-head="colleagues">{{ number(one.people) }}</td>
            <td class="num" data-head="marks of 5">{{ number(one.marks, 1) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="note">
        No routine is published to colleagues yet. It is done on the page of a routine in service, under
        <i>Self-service</i>: what it does, which inputs it asks for, who looks after it, and for whom it is.
      </p>
    </Loaded>
  </div>
</template>
