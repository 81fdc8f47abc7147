<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { number, size, span } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import HealthAside from './HealthAside.vue'
import HealthHitches from './HealthHitches.vue'
import HealthProcesses from './HealthProcesses.vue'
import { apart } from './clock'

/** Whether the installation is well, what is stuck, and what mends it. */
const query = useQuery({
  queryKey: ['health'],
  queryFn: () => ask(api.GET('/api/v1/health')),
  refetchInterval: 5_000,
})
const data = computed(() => query.data.value)
const ill = computed(() => data.value?.points.filter((point) => !point.met) ?? [])
const states = (found: Record<string, number>): string =>
  Object.entries(found)
    .map(([state, runs]) => `${number(runs)} ${state}`)
    .join(', ') || 'none'
const free = computed(() => (data.value ? data.value.disk.free / data.value.disk.total : 1))
</script>

<template>
  <div class="stack">
    <div>
      <h1>Health</h1>
      <p v-if="data" class="lead">
        <template v-if="ill.length"
          ><b class="bad">{{ ill.length }} of {{ data.points.length }} points need somebody</b></template
        ><template v-else>Everything is well</template>; Tallyman {{ data.version }}, as of
        <When :at="data.now" clock />.
      </p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <ul class="points">
          <li v-for="point in data.points" :key="point.words">
            <Glyph :state="point.met ? 'met' : 'unmet'" :word="point.met ? 'met' : 'not met'" bare />
            <span
              ><b v-if="!point.met">{{ point.words }}</b
              ><template v-else>{{ point.words }}</template>
              <span class="quiet"> {{ point.fact }}</span>
              <template v-if="point.mend"><br />{{ point.mend }}</template></span
            >
          </li>
        </ul>
        <HealthHitches v-if="data.hitches.length" :health="data" />
        <HealthProcesses :processes="data.processes" />
        <div class="two">
          <section>
            <h2>Hosts</h2>
            <table class="ledger">
              <tbody>
                <tr v-for="host in data.hosts" :key="host.id">
                  <td>
                    <Glyph
                      :state="!host.connected ? 'waiting' : host.silent ? 'silent' : 'heard'"
                      :word="!host.connected ? 'to connect' : undefined"
                    />
                  </td>
                  <td>{{ host.name }}</td>
                  <td class="num">
                    <template v-if="host.clock_ahead_ms !== null"
                      >clock {{ apart(host.clock_ahead_ms) }} s</template
                    >
                  </td>
                  <td class="num">{{ host.seats_used }} of {{ host.seats }} seats</td>
                </tr>
              </tbody>
            </table>
          </section>
          <section>
            <h2>Work and store</h2>
            <table class="ledger">
              <tbody>
                <tr>
                  <td>Open runs</td>
                  <td class="num">{{ states(data.runs) }}</td>
                </tr>
                <tr>
                  <td>Longest waiting</td>
                  <td class="num">
                    {{ data.oldest_waiting_seconds === null ? 'none' : span(data.oldest_waiting_seconds) }}
                  </td>
                </tr>
                <tr>
                  <td>Ended in the last hour</td>
                  <td class="num">{{ states(data.ended_lately) }}</td>
                </tr>
                <tr>
                  <td>Effects open, mails open</td>
                  <td class="num">{{ data.effects.open }}, {{ data.mails.open }}</td>
                </tr>
                <tr>
                  <td>Database</td>
                  <td class="num">
                    {{ data.database.version }}, {{ size(data.database.bytes) }}<br />
                    {{ data.database.connections }} of
                    {{ data.database.most_connections }} connections<template v-if="data.database.nodes"
                      >, {{ data.database.nodes }} nodes</template
                    >
                  </td>
                </tr>
                <tr>
                  <td>Disk</td>
                  <td class="num" :class="{ bad: free < 0.1 }">
                    {{ size(data.disk.free) }} free of {{ size(data.disk.total) }}
                  </td>
                </tr>
              </tbody>
            </table>
          </section>
        </div>
        <HealthAside v-if="data.set_aside.length" :rows="data.set_aside" />
      </template>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>What this page watches</h2>
        <p class="quiet">
          Engines start what is due, end what is lost, and carry out what follows from changes. Several may
          work side by side; one that dies is made up for by the others. A process whose clock is over 2 s
          from the database's starts nothing. Whatever fails stops nothing else: it is tried again with
          growing pauses, after the last try it is stuck, and somebody has it tried again or sets it aside.
          Effects behind one that failed on the same object wait, so that nothing is done out of order. The
          same figures stand under
          <code>/metrics</code> for a monitoring system.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.points {
  margin: 0;
  padding: 0;
  list-style: none;
  columns: 2;
  column-gap: 32px;
}
.points li {
  display: flex;
  gap: 10px;
  padding: 5px 0;
  break-inside: avoid;
  border-bottom: 1px solid var(--hair);
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  gap: 28px;
}
</style>
