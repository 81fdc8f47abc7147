<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import { useAction } from '@/shared/action'
import When from '@/shared/When.vue'
import AddArea from '@/house/AddArea.vue'
import AddHost from './AddHost.vue'
import HostHours from './HostHours.vue'
import RobotForm from './RobotForm.vue'

/** Hosts, robots and areas: who is there, who is silent, who may work where. */
const { may } = useMe()
const query = useQuery({
  queryKey: ['robots'],
  queryFn: () => ask(api.GET('/api/v1/robots')),
  refetchInterval: 5_000,
})
const data = computed(() => query.data.value)
const adding = ref<'host' | 'robot' | 'area' | null>(null)
const changing = ref<Schemas['Robot'] | null>(null)
const hoursOf = ref<Schemas['Host'] | null>(null)
const silent = computed(() => data.value?.hosts.filter((host) => host.silent) ?? [])
const waiting = computed(() => data.value?.hosts.filter((host) => !host.connected) ?? [])
const seats = useAction((host: number, number: number) =>
  ask(
    api.PUT('/api/v1/hosts/{number}/seats', { params: { path: { number: host } }, body: { seats: number } }),
  ),
)
const code = ref<{ host: string; code: string; until: string } | null>(null)
const renew = useAction(async (host: Schemas['Host']) => {
  const made = await ask(api.POST('/api/v1/hosts/{number}/code', { params: { path: { number: host.id } } }))
  code.value = { host: host.name, code: made.code, until: made.until }
})
function shown(made: { host: string; code: string; until: string }) {
  code.value = made
  adding.value = null
}
const server = location.origin
/** Under which accounts packages work on a host, and how they are bounded. */
const packages = (host: Schemas['Host']): string => {
  const facts = (host.facts ?? {}) as Record<string, string>
  return facts.packages ? `packages work ${facts.packages}, ${facts.limits}` : ''
}
const fact = (host: Schemas['Host']): string => {
  const facts = (host.facts ?? {}) as Record<string, string>
  return [
    facts.system,
    facts.processors && `${facts.processors} processors`,
    facts.python && `Python ${facts.python}`,
  ]
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Robots</h1>
        <p v-if="data" class="lead">
          {{ data.robots.length }} robots on {{ data.hosts.length }} hosts<template v-if="silent.length"
            >; <b class="bad">{{ silent.map((host) => host.name).join(', ') }} silent</b></template
          ><template v-if="waiting.length"
            >; {{ waiting.map((host) => host.name).join(', ') }} not connected yet</template
          >.
        </p>
      </div>
      <div v-if="may('robot.change')" class="row">
        <el-button @click="adding = 'area'">Add an area</el-button>
        <el-button @click="adding = 'robot'">Add a robot</el-button>
        <el-button type="primary" @click="adding = 'host'">Add a host</el-button>
      </div>
    </div>
    <section v-if="code" class="note stack tight" role="status">
      <p>
        One-time code for <b>{{ code.host }}</b>, good until <When :at="code.until" />. It is shown only now.
        On the host, run
      </p>
      <pre class="code">./tallyman runner --server {{ server }} --code {{ code.code }}</pre>
      <p><el-button @click="code = null">I have it</el-button></p>
    </section>
    <AddHost v-if="adding === 'host'" @done="shown" @leave="adding = null" />
    <AddArea v-if="adding === 'area' && data" :areas="data.areas" @leave="adding = null" />
    <RobotForm
      v-if="adding === 'robot' && data"
      :hosts="data.hosts"
      :areas="data.areas"
      @leave="adding = null"
    />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <section>
          <h2>Hosts</h2>
          <p v-if="!data.hosts.length" class="note">
            No host yet. Add one and run the runner on it with the code you get.
          </p>
          <table v-else class="ledger">
            <thead>
              <tr>
                <th style="width: 110px">State</th>
                <th>Host</th>
                <th>Account</th>
                <th class="num">Heard</th>
                <th class="num">Seats in use</th>
                <th v-if="may('robot.change')"></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="host in data.hosts" :key="host.id">
                <td>
                  <Glyph v-if="!host.connected" state="waiting" word="to connect" />
                  <Glyph v-else :state="host.silent ? 'silent' : 'heard'" />
                </td>
                <td>
                  <b>{{ host.name }}</b>
                  <div class="quiet">{{ fact(host) }}</div>
                  <div v-if="packages(host)" class="quiet">{{ packages(host) }}</div>
                  <div v-if="host.leaving_at" class="care">is leaving: its runner is being stopped</div>
                  <div v-if="host.used_at" class="quiet">
                    its token was used <When :at="host.used_at" near /> from {{ host.used_from
                    }}{{
                      host.bound
                        ? ', and works on this machine only'
                        : '; it works on any machine until the host is connected anew'
                    }}
                  </div>
                  <div v-if="host.hours_from" class="quiet">
                    works {{ host.hours_from }} to {{ host.hours_to }} ({{ host.hours_zone }})
                  </div>
                  <div v-if="Math.abs(host.clock_ahead_ms ?? 0) > 2000" class="care">
                    its clock is {{ Math.round(Math.abs(host.clock_ahead_ms ?? 0) / 1000) }} s
                    {{ (host.clock_ahead_ms ?? 0) > 0 ? 'ahead' : 'behind' }}
                  </div>
                </td>
                <td>{{ host.account ?? '–' }}</td>
                <td class="num">
                  <When v-if="host.heard_at" :at="host.heard_at" near /><template v-else>never</template>
                </td>
                <td class="num">
                  {{ host.seats_used }} of {{ host.seats }}
                  <template v-if="may('robot.change')">
                    <el-button
                      :aria-label="`One seat fewer for ${host.name}`"
                      :disabled="host.seats === 0"
                      link
                      type="primary"
                      @click="seats.go(host.id, host.seats - 1)"
                    >
                      −
                    </el-button>
                    <el-button
                      :aria-label="`One seat more for ${host.name}`"
                      link
                      type="primary"
                      @click="seats.go(host.id, host.seats + 1)"
                    >
                      +
                    </el-button>
                  </template>
                </td>
                <td v-if="may('robot.change')" class="num">
                  <el-button link type="primary" @click="hoursOf = host">Hours</el-button>
                  <el-button link type="primary" @click="renew.go(host)">New code</el-button>
                </td>
              </tr>
            </tbody>
          </table>
          <HostHours v-if="hoursOf" :key="hoursOf.id" :host="hoursOf" @leave="hoursOf = null" />
          <Problem :error="seats.error.value ?? renew.error.value" />
        </section>
        <section>
          <h2>Robots</h2>
          <p v-if="!data.robots.length" class="note">
            No robot yet. A robot is a worker on a host, allowed in some areas.
          </p>
          <table v-else class="ledger">
            <thead>
              <tr>
                <th>Robot</th>
                <th>Works now</th>
                <th>Tags</th>
                <th>Allowed in</th>
                <th v-if="may('robot.change')"></th>
              </tr>
            </thead>
            <tbody>
              <template v-for="robot in data.robots" :key="robot.id">
                <tr>
                  <td>
                    <b>{{ robot.name }}</b>
                    <div class="quiet">
                      on {{ robot.host }}<template v-if="robot.account"> as {{ robot.account }}</template>
                    </div>
                    <div v-if="robot.account_fault" class="care">{{ robot.account_fault }}</div>
                    <div v-if="robot.as_runner" class="care">
                      its packages work as the runner itself and can read the host's token
                    </div>
                  </td>
                  <td>
                    <router-link v-if="robot.busy_with" :to="`/runs/${robot.busy_with}`"
                      >R-{{ robot.busy_with }}</router-link
                    >
                    <span v-else class="quiet">{{
                      robot.silent ? 'cannot: its host is silent' : 'free'
                    }}</span>
                  </td>
                  <td>{{ robot.tags.join(', ') || '–' }}</td>
                  <td>
                    {{ robot.areas.map((area) => area.name).join(', ') || '' }}
                    <span v-if="!robot.areas.length" class="care">nowhere, so it gets no work</span>
                  </td>
                  <td v-if="may('robot.change')" class="num">
                    <el-button link type="primary" @click="changing = robot">Change</el-button>
                  </td>
                </tr>
                <tr v-if="changing?.id === robot.id">
                  <td colspan="5">
                    <RobotForm
                      :robot="changing"
                      :hosts="data.hosts"
                      :areas="data.areas"
                      @leave="changing = null"
                    />
                  </td>
                </tr>
              </template>
            </tbody>
          </table>
        </section>
        <section>
          <h2>Areas</h2>
          <p v-if="!data.areas.length" class="note">No area yet. Routines and robots belong to areas.</p>
          <ul v-else class="areas">
            <li v-for="area in data.areas" :key="area.id">
              {{ area.name }} <span v-if="area.above" class="quiet">in {{ area.above }}</span>
            </li>
          </ul>
        </section>
      </template>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How they belong together</h2>
        <p class="quiet">
          A host is a computer; its runner keeps it connected and is silent when not heard from for 30 s. A
          host runs as many robots at once as it has seats. A robot takes work in the areas it is allowed in,
          and in those below, if it has all the tags a routine asks for.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.code {
  margin: 0;
  padding: 8px 10px;
  background: var(--margin);
  overflow-x: auto;
}
.areas {
  margin: 0;
  padding: 0;
  list-style: none;
  columns: 3;
}
</style>
