<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { lasted, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'

/** What a host did in the last week, and what starts within a day that its robots may take. */
const props = defineProps<{ id: number }>()
const query = useQuery({
  queryKey: ['runs', 'of-host', () => props.id],
  queryFn: () => ask(api.GET('/api/v1/hosts/{number}/work', { params: { path: { number: props.id } } })),
})
const data = computed(() => query.data.value)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="two">
      <section class="stack tight">
        <h2>Runs of the last week</h2>
        <p v-if="!data.past.length" class="quiet">None that you may see.</p>
        <table v-else class="ledger stacks">
          <tbody>
            <tr v-for="one in data.past" :key="`${one.run_id} ${one.started_at}`">
              <td class="whole">
                <router-link :to="`/runs/${one.run_id}`">R-{{ one.run_id }} {{ one.routine }}</router-link>
                <div class="quiet">
                  {{ one.robot }}, <When :at="one.started_at" />,
                  {{ lasted(one.started_at, one.ended_at, data.now) }}
                </div>
              </td>
              <td class="num"><Glyph :state="one.state" /></td>
            </tr>
          </tbody>
        </table>
        <p v-if="data.past_more" class="quiet">
          The latest {{ data.past.length }}; all are under <router-link to="/runs">Runs</router-link>.
        </p>
      </section>
      <section class="stack tight">
        <h2>To come within a day</h2>
        <p v-if="!data.coming.length" class="quiet">Nothing on the clock that its robots may take.</p>
        <table v-else class="ledger stacks">
          <tbody>
            <tr v-for="one in data.coming" :key="`${one.routine_id} ${one.at}`">
              <td class="whole">
                <router-link :to="`/workshop/routines/${one.routine_id}`">{{ one.routine }}</router-link>
                <div class="quiet">{{ one.robots.join(', ') }} may take it</div>
              </td>
              <td class="num"><When :at="one.at" /></td>
            </tr>
          </tbody>
        </table>
        <p v-if="data.more" class="quiet">And {{ several(data.more, 'routine', 'routines') }} more.</p>
        <p v-if="data.unseen" class="quiet">
          {{ several(data.unseen, 'routine starts', 'routines start') }} in areas that you may not see.
        </p>
      </section>
    </div>
  </Loaded>
</template>
