<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { lasted, span } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Needs from '@/shared/Needs.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import RunDecisions from './RunDecisions.vue'
import RunLog from './RunLog.vue'
import RunData from './RunData.vue'
import RunEntries from './RunEntries.vue'
import RunFiles from './RunFiles.vue'
import RunKin from './RunKin.vue'
import RunProgress from './RunProgress.vue'
import StalledNote from './StalledNote.vue'
import RunScreen from './RunScreen.vue'
import RunSteps from './RunSteps.vue'

/** One run, live: state and reason, steps, log, inputs and outputs, what it posted. */
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
const key = newKey()
const router = useRouter()
const again = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/runs/{number}/again', {
      params: { path: { number: id.value }, header: { 'idempotency-key': `${key}-${id.value}` } },
    }),
  )
  await router.push(`/runs/${made.id}`)
})
const live = computed(() => run.value?.state === 'running')
const lastsNow = computed(() =>
  live.value
    ? lasted(run.value?.started_at ?? null, null, now.value.toISOString())
    : lasted(run.value?.started_at ?? null, run.value?.ended_at ?? null, run.value?.now ?? ''),
)
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
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="run" class="stack">
      <div class="spread">
        <div>
          <p class="quiet">
            <router-link to="/runs">Runs</router-link> · {{ run.area
            }}{{ run.trial ? ' · trial, posts nothing' : ''
            }}{{ run.meant_for ? ` · on the computer of ${run.meant_for}` : '' }}
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
          <router-link :to="run.of_link" class="button">The {{ run.of }}</router-link>
          <el-button v-if="run.may.start_again" :disabled="again.busy.value" @click="again.go()">
            Start again
          </el-button>
          <el-button v-if="run.may.go_on" :disabled="goOn.busy.value" type="primary" @click="goOn.go()">
            Continue it
          </el-button>
          <el-button
            v-if="run.may.pause || run.may.why_no_pause"
            :disabled="!run.may.pause || pause.busy.value"
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
      <Problem :error="cancel.error.value ?? pause.error.value ?? goOn.error.value ?? again.error.value" />
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
      <StalledNote v-if="run.stalled" :stalled="run.stalled" :cancel="run.may.cancel" />
      <RunScreen v-if="run.screen" :run="run.id" :screen="run.screen" :open="!!run.stalled" />
      <p v-if="run.silent_since" class="note care" role="status">
        Its host {{ run.host }} was not heard from since <When :at="run.silent_since" />. The run may go on
        there unseen; if nothing is heard, it is lost when its lease ends, at
        <When :at="run.lease_until ?? ''" />.
      </p>
      <RunProgress v-if="live && run.progress" :progress="run.progress" />
      <RunDecisions :run="run" />
      <RunKin :run="run" />
      <section v-if="run.state === 'waiting'">
        <h2>What it needs</h2>
        <Needs :needs="run.needs" />
      </section>
      <RunSteps :run="run" :live="live" :now="now.toISOString()" />
      <section v-if="run.started_at">
        <h2>Log</h2>
        <RunLog :run="run.id" :live="live" />
      </section>
      <RunFiles v-if="run.files.length" :run="run.id" :files="run.files" />
      <RunData :run="run" :live="live" />
      <RunEntries v-if="run.entries.length || run.caution" :run="run" />
      <p v-else-if="run.ended_at && run.trial && may('value.see')" class="quiet">
        A trial run posts nothing to the tally.
      </p>
      <MarginNotes holds>
        <section class="stack tight">
          <h2>About this run</h2>
          <p>
            Started {{ /^(again|by) /.test(run.started_words) ? '' : 'by ' }}{{ run.started_words }}<br />
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
