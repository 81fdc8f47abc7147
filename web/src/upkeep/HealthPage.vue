<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { number, size, span } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { useDraft } from '@/shared/unsaved'

/** Whether the installation is well, what is stuck, and what mends it. */
const query = useQuery({
  queryKey: ['health'],
  queryFn: () => ask(api.GET('/api/v1/health')),
  refetchInterval: 5_000,
})
const data = computed(() => query.data.value)
const ill = computed(() => data.value?.points.filter((point) => !point.met) ?? [])
const again = useAction((id: number) =>
  ask(api.POST('/api/v1/health/hitches/{number}/again', { params: { path: { number: id } } })),
)
const asideOf = ref<number | null>(null)
const why = ref('')
const aside = useAction(async (id: number) => {
  const params = { path: { number: id } }
  await ask(api.POST('/api/v1/health/hitches/{number}/aside', { params, body: { why: why.value } }))
  asideOf.value = null
  why.value = ''
})
const link = (object: string): string => {
  const [subject, id] = object.split(':')
  return (
    { run: `/runs/${id}`, idea: `/ideas/${id}`, routine: `/workshop/routines/${id}` }[subject ?? ''] ?? ''
  )
}
const states = (found: Record<string, number>): string =>
  Object.entries(found)
    .map(([state, runs]) => `${number(runs)} ${state}`)
    .join(', ') || 'none'
const apart = (ms: number): string => number(Math.abs(ms) < 50 ? 0 : ms / 1000, 1, 1)
const free = computed(() => (data.value ? data.value.disk.free / data.value.disk.total : 1))
useDraft('Why it is set aside', () => 'health-aside', { why }, { open: asideOf })
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
        <section v-if="data.hitches.length" class="stack tight">
          <h2>What failed</h2>
          <table class="ledger">
            <thead>
              <tr>
                <th>What</th>
                <th>Why it fails</th>
                <th class="num">Tries</th>
                <th class="num">Next try</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <template v-for="row in data.hitches" :key="row.id">
                <tr>
                  <td>
                    {{ row.words }}
                    <div v-if="row.about" class="quiet wrap">{{ row.about }}</div>
                    <div v-if="row.object">
                      <router-link v-if="link(row.object)" :to="link(row.object)">{{
                        row.object
                      }}</router-link>
                      <template v-else>{{ row.object }}</template>
                    </div>
                    <div v-if="row.behind" class="care">{{ row.behind }} more wait behind it</div>
                  </td>
                  <td class="wrap">{{ row.fault }}</td>
                  <td class="num">{{ row.tries }}</td>
                  <td class="num">
                    <b v-if="row.stuck" class="bad">stuck: not tried by itself any more</b>
                    <When v-else-if="row.due_at" :at="row.due_at" near />
                  </td>
                  <td v-if="data.may_mend" class="num">
                    <el-button link type="primary" @click="again.go(row.id)">Try now</el-button><br />
                    <el-button link type="danger" @click="asideOf = row.id">Set aside</el-button>
                  </td>
                </tr>
                <tr v-if="asideOf === row.id">
                  <td colspan="5">
                    <form class="row" @submit.prevent="aside.go(row.id)">
                      <el-input
                        v-model="why"
                        style="--chars: 50"
                        aria-label="Why it is set aside"
                        placeholder="Why it will never be done, for the record"
                      />
                      <el-button :disabled="aside.busy.value" type="primary" native-type="submit"
                        >Set it aside for good</el-button
                      >
                      <el-button @click="asideOf = null">Leave it</el-button>
                    </form>
                    <Problem :error="aside.error.value" />
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
          <p v-if="data.hitches_more" class="quiet">
            {{ number(data.hitches_more) }} more stand behind these; they come up as these are mended.
          </p>
          <Problem :error="again.error.value" />
        </section>
        <section>
          <h2>Processes</h2>
          <table class="ledger">
            <thead>
              <tr>
                <th style="width: 110px">State</th>
                <th>Process</th>
                <th>Loops: last turn, behind</th>
                <th class="num">Clock, s</th>
                <th class="num">Heard</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="one in data.processes" :key="`${one.machine}-${one.pid}`">
                <td>
                  <Glyph
                    :state="one.silent ? 'silent' : one.well ? 'heard' : 'unmet'"
                    :word="one.silent ? 'silent' : one.well ? 'well' : 'ill'"
                  />
                </td>
                <td>
                  {{ one.kind }} {{ one.pid }}
                  <div class="quiet">
                    {{ one.machine }}, {{ one.version }}, since <When :at="one.started_at" />
                  </div>
                </td>
                <td>
                  <div v-if="one.says" class="bad wrap">{{ one.says }}</div>
                  <span class="quiet">
                    <template v-for="(loop, name, n) in one.loops" :key="name"
                      ><template v-if="n">; </template>{{ name }} {{ loop.took_ms }} ms<template
                        v-if="loop.late_ms > 500"
                        >, {{ loop.late_ms }} ms behind</template
                      ></template
                    >
                  </span>
                </td>
                <td class="num">{{ apart(one.apart_ms) }}</td>
                <td class="num"><When :at="one.seen_at" near /></td>
              </tr>
            </tbody>
          </table>
        </section>
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
        <section v-if="data.set_aside.length">
          <h2>Set aside by somebody</h2>
          <table class="ledger">
            <tbody>
              <tr v-for="row in data.set_aside" :key="row.id">
                <td>
                  {{ row.words }}
                  <router-link v-if="link(row.object)" :to="link(row.object)">{{ row.object }}</router-link>
                  <template v-else>{{ row.about }}</template>
                </td>
                <td>{{ row.aside_why }}</td>
                <td class="num">{{ row.person }}, <When :at="row.aside_at" /></td>
              </tr>
            </tbody>
          </table>
        </section>
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
.wrap {
  overflow-wrap: anywhere;
  white-space: normal;
}
</style>
