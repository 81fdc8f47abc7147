<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Choice from '@/shared/Choice.vue'
import { lasted, several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** Runs that were started together: how many stand how, each of them, and the rows that started nothing. */
const ENDED = ['done', 'failed', 'cancelled', 'lapsed', 'lost']
const LOOKS_AGAIN_MS = 5_000
// So many stand there at first; the others with a press.
const FIRST = 100
const route = useRoute()
const path = computed(() => ({ params: { path: { number: Number(route.params.id) } } }))
const query = useQuery({
  queryKey: ['runs', 'group', () => Number(route.params.id)],
  queryFn: () => ask(api.GET('/api/v1/run-groups/{number}', path.value)),
  refetchInterval: (one) =>
    one.state.data?.runs.every((run) => ENDED.includes(run.state)) ? false : LOOKS_AGAIN_MS,
})
const data = computed(() => query.data.value)
const state = ref<string | null>(null)
const whole = ref(false)
const fitting = computed(() =>
  (data.value?.runs ?? []).filter((one) => state.value === null || one.state === state.value),
)
const shown = computed(() => (whole.value ? fitting.value : fitting.value.slice(0, FIRST)))
const states = computed(() =>
  Object.entries(data.value?.counts ?? {}).map(([value, count]) => ({ value, words: `${value} (${count})` })),
)
const given = (inputs: unknown) =>
  Object.entries(inputs as Record<string, unknown>)
    .map(([name, value]) => `${name} ${typeof value === 'string' ? value : JSON.stringify(value)}`)
    .join(', ')
const sure = ref(false)
const cancel = useAction(async () => {
  await ask(api.POST('/api/v1/run-groups/{number}/cancel', path.value))
  sure.value = false
})
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <div class="spread">
        <div>
          <p class="quiet">
            <router-link to="/runs">Runs</router-link> · {{ data.area }} ·
            <router-link :to="`/workshop/routines/${data.routine_id}`">{{ data.routine }}</router-link>
          </p>
          <h1>{{ several(data.runs.length, 'run', 'runs') }} of {{ data.routine }}</h1>
          <p class="lead">
            Started together by {{ data.person ?? 'Tallyman' }}, {{ data.words }}, <When :at="data.made_at" />
          </p>
        </div>
        <div v-if="data.may_cancel" class="row">
          <el-button v-if="!sure" type="danger" @click="sure = true">Cancel what waits</el-button>
          <el-button v-else type="danger" :disabled="cancel.busy.value" @click="cancel.go()"
            >Yes, cancel {{ several(data.waiting, 'run', 'runs') }}</el-button
          >
        </div>
      </div>
      <Problem :error="cancel.error.value" />
      <p class="row" role="status">
        <span v-for="(count, name) in data.counts" :key="name" class="row count">
          <b>{{ count }}</b> <Glyph :state="name" />
        </span>
        <span v-if="data.refused.length" class="bad">
          {{ several(data.refused.length, 'row', 'rows') }} refused
        </span>
      </p>
      <section v-if="data.refused.length">
        <h2>Rows that started nothing</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="row in data.refused" :key="row.line">
              <td style="width: 80px">Line {{ row.line }}</td>
              <td>
                <div v-for="fault in row.faults" :key="fault" class="bad">{{ fault }}</div>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section class="stack tight">
        <h2>Runs</h2>
        <Choice
          v-if="states.length > 1"
          v-model="state"
          label="State"
          :options="states"
          nothing="all of them"
        />
        <table class="ledger">
          <tbody>
            <tr v-for="run in shown" :key="run.id">
              <td class="num quiet" style="width: 50px">{{ run.line }}</td>
              <td style="width: 110px"><Glyph :state="run.state" /></td>
              <td>
                <router-link class="whole" :to="`/runs/${run.id}`">R-{{ run.id }}</router-link>
                <span class="quiet"> {{ given(run.inputs) }}</span>
                <div class="quiet">{{ run.reason }}</div>
              </td>
              <td class="num">{{ run.robot ?? '–' }}</td>
              <td class="num">{{ lasted(run.started_at, run.ended_at, data.now) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="shown.length < fitting.length">
          <el-button link type="primary" @click="whole = true"
            >Show {{ fitting.length - shown.length }} more</el-button
          >
        </p>
      </section>
    </div>
  </Loaded>
</template>

<style scoped>
.count {
  gap: 4px;
}
</style>
