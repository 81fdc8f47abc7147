<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { lasted, number, span } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Needs from '@/shared/Needs.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import CorrectCount from './CorrectCount.vue'
import RunDecisions from './RunDecisions.vue'
import RunLog from './RunLog.vue'

/** One run, live: state and reason, steps, log, inputs and outputs, what it posted. */
type Step = Schemas['Step']
const route = useRoute()
const { may } = useMe()
const now = useNow({ interval: 1_000 })
const id = computed(() => Number(route.params.id))
const query = useQuery({
  queryKey: ['runs', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/runs/{number}', { params: { path: { number: id.value } } })),
  refetchInterval: (one) => (one.state.data?.state === 'waiting' ? 5_000 : false),
})
const run = computed(() => query.data.value)
const cancelling = ref(false)
const cancel = useAction(() =>
  ask(api.POST('/api/v1/runs/{number}/cancel', { params: { path: { number: id.value } } })),
)
const pause = useAction(() =>
  ask(api.POST('/api/v1/runs/{number}/pause', { params: { path: { number: id.value } } })),
)
const goOn = useAction(() =>
  ask(api.POST('/api/v1/runs/{number}/continue', { params: { path: { number: id.value } } })),
)
const live = computed(() => run.value?.state === 'running')
const lastsNow = computed(() =>
  live.value
    ? lasted(run.value?.started_at ?? null, null, now.value.toISOString())
    : lasted(run.value?.started_at ?? null, run.value?.ended_at ?? null, run.value?.now ?? ''),
)
/** A step that did not end was paused with its segment, is going on, or was cut short. */
const segmentOf = (step: Step) =>
  run.value?.segments.find((one) => one.n === Math.floor((step.n - 1) / 1000) + 1)
const segmentEnd = (step: Step): string | null => segmentOf(step)?.ended_at ?? null
const stepState = (step: Step): string => {
  if (step.fault) return 'failed'
  if (step.ended_at) return 'done'
  if (segmentOf(step)?.ended_as === 'held') return 'held'
  return live.value ? 'running' : 'lost'
}
const stepWord = (step: Step): string =>
  ({ held: 'paused', lost: 'cut short' })[stepState(step)] ?? stepState(step)
const words = computed(() => {
  const one = run.value
  if (!one) return ''
  if (one.state === 'waiting') {
    const kept = one.segment ? ` It goes on from the state saved after segment ${one.segment}.` : ''
    return `It waits: ${one.waits_for}.${kept}`
  }
  if (one.state === 'running') {
    if (one.cancel_at) return `${one.canceller} asked to cancel it; the package gets 30 s to end.`
    return one.pause_at
      ? `${one.pauser} asked to pause it; the package saves its state at its next checkpoint and stops.`
      : ''
  }
  if (one.state === 'held')
    return `It is held: ${one.reason}. Its robot is free; continued, any eligible robot goes on from the saved state.`
  return (
    one.reason ||
    (one.state === 'done' ? (one.outcome === 'nothing' ? 'It found nothing to do.' : 'It worked.') : '')
  )
})
const show = (value: unknown): string => {
  const text = typeof value === 'string' ? value : JSON.stringify(value)
  return text.startsWith('file:') ? text.split('/').slice(1).join('/') : text
}
const pairs = (value: unknown): [string, string][] =>
  Object.entries((value ?? {}) as Record<string, unknown>).map(([name, one]) => [name, show(one)])
/** What a step was given, and what came of it. */
function saidOf(step: { data_in?: unknown; data_out?: unknown }): string {
  const said = (value: unknown) =>
    pairs(value)
      .map(([name, one]) => `${name} ${one}`)
      .join('; ')
  const out = said(step.data_out)
  return [said(step.data_in), out && `→ ${out}`].filter(Boolean).join(' ')
}
const tables = computed(() => [
  { name: 'Inputs', rows: pairs(run.value?.inputs), none: 'none given' },
  { name: 'Outputs', rows: pairs(run.value?.outputs), none: live.value ? 'come at the end' : 'none' },
  { name: 'Counts', rows: pairs(run.value?.counts), none: live.value ? 'come at the end' : 'none' },
])
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="run" class="stack">
      <div class="spread">
        <div>
          <p class="quiet">
            <router-link to="/runs">Runs</router-link> · {{ run.area
            }}{{ run.trial ? ' · trial, posts nothing' : '' }}
          </p>
          <h1>R-{{ run.id }} {{ run.routine }}</h1>
          <p class="lead" data-state>
            <Glyph :state="run.state" />
            <template v-if="run.state === 'held'">
              for {{ lasted(run.held_at, null, now.toISOString()) }}</template
            >
            <template v-else-if="run.started_at"> {{ lastsNow }}</template>
            <template v-if="live && run.usual_seconds">, usually {{ span(run.usual_seconds) }}</template>
          </p>
        </div>
        <div class="row">
          <router-link :to="`/workshop/routines/${run.routine_id}`" class="button">The routine</router-link>
          <el-button v-if="run.may.go_on" :disabled="goOn.busy.value" type="primary" @click="goOn.go()">
            Continue it
          </el-button>
          <el-button
            v-if="run.may.pause || run.may.why_no_pause"
            :disabled="!run.may.pause || pause.busy.value"
            :title="run.may.why_no_pause || undefined"
            @click="pause.go()"
          >
            Pause it
          </el-button>
          <template v-if="run.may.cancel && !run.cancel_at">
            <el-button v-if="!cancelling" type="danger" @click="cancelling = true">Cancel the run</el-button>
            <el-button
              v-else
              :disabled="cancel.busy.value"
              type="danger"
              @click="cancel.go().then(() => (cancelling = false))"
            >
              Yes, cancel it
            </el-button>
          </template>
        </div>
      </div>
      <p v-if="run.may.why_no_pause" class="quiet">It cannot be paused: {{ run.may.why_no_pause }}.</p>
      <Problem :error="cancel.error.value ?? pause.error.value ?? goOn.error.value" />
      <p
        v-if="words"
        class="note"
        :class="{
          bad: ['failed', 'lost'].includes(run.state),
          care: ['waiting', 'held', 'lapsed'].includes(run.state),
        }"
        role="status"
      >
        {{ words }}
      </p>
      <RunDecisions :run="run" />
      <p v-if="run.again_of || run.tried_again_as">
        <template v-if="run.again_of"
          >Tried again after <router-link :to="`/runs/${run.again_of}`">R-{{ run.again_of }}</router-link> was
          lost.
        </template>
        <template v-if="run.tried_again_as"
          >Tried again as
          <router-link :to="`/runs/${run.tried_again_as}`">R-{{ run.tried_again_as }}</router-link
          >.</template
        >
      </p>
      <section v-if="run.state === 'waiting'">
        <h2>What it needs</h2>
        <Needs :needs="run.needs" />
      </section>
      <section v-if="run.segments.length > 1 || run.state === 'held'">
        <h2>Segments</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="one in run.segments" :key="one.n">
              <td style="width: 110px"><Glyph :state="one.ended_as ?? 'running'" /></td>
              <td>Segment {{ one.n }}: {{ one.robot }} on {{ one.host }}</td>
              <td class="num">from <When :at="one.started_at" clock /></td>
              <td class="num">{{ lasted(one.started_at, one.ended_at, now.toISOString()) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="run.steps.length">
        <h2>Steps</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="step in run.steps" :key="step.n">
              <td style="width: 110px">
                <Glyph :state="stepState(step)" :word="stepWord(step)" />
              </td>
              <td>
                {{ ((step.n - 1) % 1000) + 1 }} {{ step.name }}
                <div v-if="step.fault" class="quiet bad">{{ step.fault }}</div>
                <div class="quiet">
                  {{ saidOf(step) }}
                </div>
              </td>
              <td class="num">
                {{
                  lasted(
                    step.started_at,
                    step.ended_at ?? segmentEnd(step),
                    live ? now.toISOString() : (run.ended_at ?? run.now),
                  )
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section v-if="run.started_at">
        <h2>Log</h2>
        <RunLog :run="run.id" :live="live" />
      </section>
      <div class="three">
        <section v-for="table in tables" :key="table.name">
          <h2>{{ table.name }}</h2>
          <p v-if="!table.rows.length" class="quiet">{{ table.none }}</p>
          <table v-else class="ledger">
            <tbody>
              <tr v-for="[name, value] in table.rows" :key="name">
                <td>{{ name }}</td>
                <td class="num wrap">{{ value }}</td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
      <section v-if="run.entries.length || run.caution">
        <h2>Posted to the tally</h2>
        <p v-if="run.caution" class="note care">{{ run.caution }}</p>
        <table class="ledger">
          <thead>
            <tr>
              <th>Line</th>
              <th>Month</th>
              <th class="num">Units</th>
              <th class="num">Hours</th>
              <th class="num">Money</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="entry in run.entries" :key="entry.id">
              <td>
                <router-link
                  v-if="entry.idea_id"
                  :to="`/ideas/${entry.idea_id}?sheet=tally&month=${entry.month}`"
                  >{{ entry.line }}</router-link
                >
                <template v-else>{{ entry.line }}</template>
                <div v-if="entry.kind !== 'run'" class="quiet">{{ entry.kind }}: {{ entry.why }}</div>
              </td>
              <td>{{ entry.month }}</td>
              <td class="num">{{ number(entry.units) }}</td>
              <td class="num">{{ number(entry.hours, 4) }}</td>
              <td class="num">{{ number(entry.money, 4, 2) }}</td>
            </tr>
          </tbody>
        </table>
        <CorrectCount :run="run" />
      </section>
      <p v-else-if="run.ended_at && run.trial && may('value.see')" class="quiet">
        A trial run posts nothing to the tally.
      </p>
      <MarginNotes holds>
        <section class="stack tight">
          <h2>About this run</h2>
          <p>
            Started by {{ run.started_words }}<br />
            {{ run.package }} {{ run.release_version }}<br />
            <template v-if="run.robot"
              >{{ run.robot }} on {{ run.host
              }}<template v-if="run.segments.length > 1">, segment {{ run.segments.length }}</template
              ><br
            /></template>
            Due <When :at="run.due_at" /><br />
            <template v-if="run.started_at">Started <When :at="run.started_at" clock /><br /></template>
            <template v-if="run.ended_at">Ended <When :at="run.ended_at" clock /></template>
            <template v-if="live">Lease until <When :at="run.lease_until" clock /></template>
          </p>
          <p class="quiet">Time limit {{ run.limit_minutes }} min</p>
        </section>
      </MarginNotes>
      <History subject="run" :number="run.id" about="runs" />
    </div>
  </Loaded>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 24px;
}
.wrap {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
