<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { number, several } from '@/shared/format'
import { later } from '@/shared/later'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import { kindSaid } from './drawing'
import UsesList from './UsesList.vue'

const UsesDrawing = later(() => import('./UsesDrawing.vue'))

/** What hangs on one thing of the house, and what would stop if it went. */
const route = useRoute()
const path = computed(() => ({
  kind: route.params.kind as Schemas['UsedThing']['kind'],
  key: route.params.key as string,
}))
const query = useQuery({
  queryKey: ['uses', path],
  queryFn: () => ask(api.GET('/api/v1/uses/{kind}/{key}', { params: { path: path.value } })),
  placeholderData: keepPreviousData,
})
const data = computed(() => query.data.value)
const stops = computed(() => data.value?.stops)
const routines = computed(() => (stops.value ? stops.value.routines.length + stops.value.unseen : 0))
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && stops" class="stack">
      <div>
        <p class="quiet">
          {{ kindSaid(data.thing.kind) }} · <router-link :to="data.thing.link">its page</router-link>
        </p>
        <h1>What hangs on {{ data.thing.name }}</h1>
        <p class="lead" data-stops>
          <template v-if="routines"
            >If it went, <b>{{ several(routines, 'routine', 'routines') }}</b> could not start, and
            <Figure
              name="starts-that-wait"
              :text="several(stops.starts, 'start', 'starts')"
              :working="stops.starts_working"
            />
            of the next 24 hours would wait.</template
          ><template v-else>{{ stops.said || 'No routine would stop if it went.' }}</template>
        </p>
        <p v-if="stops.seat_waits">
          With its seats gone,
          <Figure
            name="seats-that-lack"
            :text="several(stops.seat_waits, 'start', 'starts')"
            :working="stops.seat_waits_working"
          />
          of the next 24 hours would wait for a seat that do not now.
        </p>
        <p v-if="stops.unread" class="care">
          {{ several(stops.unread, 'start', 'starts') }} on the clock cannot be read and
          {{ stops.unread === 1 ? 'is' : 'are' }} not counted.
        </p>
      </div>
      <section v-if="routines">
        <h2>What would stop</h2>
        <table class="ledger stacks">
          <thead>
            <tr>
              <th>Routine</th>
              <th>Why</th>
              <th class="num">Starts in 24 hours</th>
              <th class="num">The first</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in stops.routines" :key="one.number">
              <td>
                <router-link :to="`/workshop/routines/${one.number}`">{{ one.name }}</router-link>
              </td>
              <td>{{ one.why }}</td>
              <td class="num">{{ one.starts ? number(one.starts) : 'none' }}</td>
              <td class="num">
                <When v-if="one.first_at" :at="one.first_at" /><template v-else>–</template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="stops.unseen" class="quiet">
          {{ several(stops.unseen, 'routine', 'routines') }} among them that you may not see.
        </p>
      </section>
      <section>
        <h2>What hangs on it</h2>
        <p v-if="!data.hanging.length && !data.unseen" class="quiet">Nothing hangs on it.</p>
        <UsesDrawing v-if="data.hanging.length || data.stands_on.length" :uses="data" />
        <UsesList v-if="data.hanging.length" name="What hangs on it" :rows="data.hanging" />
        <p v-if="data.unseen" class="quiet">{{ number(data.unseen) }} more that you may not see.</p>
        <p v-if="data.cut" class="care">
          There is more than these {{ number(data.hanging.length) }} things, and what would stop is reckoned
          from these alone: look from one of them on.
        </p>
      </section>
      <section v-if="data.stands_on.length">
        <h2>What it stands on itself</h2>
        <UsesList name="What it stands on" :rows="data.stands_on" upward />
      </section>
      <MarginNotes>
        <h2>How to read this</h2>
        <p class="quiet">
          What hangs on it would miss it. A routine that several robots may run hangs on each of them, and
          stops only when none is left: what would stop is reckoned from all robots, not from the lines. The
          starts are those on the clock; people and programs may start more.
        </p>
      </MarginNotes>
    </div>
  </Loaded>
</template>
