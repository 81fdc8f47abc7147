<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Working } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import Fold from '@/shared/Fold.vue'
import { number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'

/** The starts of the next day against the seats there are: who would wait, and what one seat more spares. */
const query = useQuery({
  queryKey: ['robots', 'seats', 'coming'],
  queryFn: () => ask(api.GET('/api/v1/seats/coming')),
  staleTime: 60_000,
})
const data = computed(() => query.data.value)
const working = (tree: unknown) => (tree ?? null) as Working | null
</script>

<template>
  <section class="stack tight">
    <h3>The next 24 hours</h3>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <p v-if="!data.starts" class="quiet">Nothing starts on the clock.</p>
        <template v-else>
          <p>
            {{ several(data.starts, 'start', 'starts') }} on the clock; at most
            <Figure
              name="runs wanted at once"
              :text="number(data.wanted)"
              :working="working(data.wanted_working)"
            />
            at once<template v-if="data.wanted_at">, first at <When :at="data.wanted_at" clock /></template>,
            on {{ several(data.seats, 'seat', 'seats') }}.
            <template v-if="!data.seats">Without a seat all of them wait.</template>
            <template v-else-if="!data.waiting">Nobody waits for a seat.</template>
            <template v-else>
              <b class="care">{{ several(data.waiting, 'start waits', 'starts wait') }} for a seat</b>; one
              seat more would spare
              <Figure
                name="minutes of waiting that one seat more would spare"
                :text="`${number(working(data.spared_working)?.outcome ?? '0', 1)} min`"
                :working="working(data.spared_working)"
              />
              of waiting<template v-if="data.waiting_one_more"
                >, and {{ number(data.waiting_one_more) }} would still wait</template
              >.
            </template>
          </p>
          <table v-if="data.waits.length" class="ledger stacks">
            <thead>
              <tr>
                <th>What would wait for a seat</th>
                <th class="num">Its time</th>
                <th class="num">Minutes</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(one, n) in data.waits" :key="n">
                <td class="whole">{{ one.name }}</td>
                <td class="num" data-head="its time"><When :at="one.at" clock /></td>
                <td class="num" data-head="minutes">{{ number(one.minutes, 1) }}</td>
              </tr>
            </tbody>
          </table>
          <p v-if="data.waiting > data.waits.length" class="quiet">
            The first {{ data.waits.length }} of {{ number(data.waiting) }} that would wait.
          </p>
          <p v-if="data.unread" class="care">
            {{ several(data.unread, 'trigger', 'triggers') }} cannot be read, and counts for none of this.
          </p>
          <p v-if="data.left_out" class="care">
            {{ several(data.left_out, 'later start is', 'later starts are') }} not looked at.
          </p>
          <Fold v-if="data.lengths.length" words="How long each run is taken to last">
            <ul class="plain">
              <li v-for="one in data.lengths" :key="one.name">
                {{ one.name }}: {{ number(one.value, 1) }} {{ one.note }}
              </li>
            </ul>
          </Fold>
        </template>
      </template>
    </Loaded>
  </section>
</template>

<style scoped>
.plain {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
