<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { number } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** What of a run waits for a person: an outcome that came late, a count far from the usual. */
const props = defineProps<{ run: Schemas['RunWhole'] }>()
const path = () => ({ path: { number: props.run.id } })
const late = useAction((counts: boolean) =>
  ask(api.POST('/api/v1/runs/{number}/late', { params: path(), body: { counts } })),
)
const right = useAction(() => ask(api.POST('/api/v1/value/runs/{number}/right', { params: path() })))
const counted = (counts: Record<string, string>) =>
  Object.entries(counts)
    .map(([name, value]) => `${number(value)} ${name}`)
    .join(', ')
</script>

<template>
  <section v-if="run.late" class="note care stack tight" role="status">
    <h2>Its outcome came late</h2>
    <p>
      It was given up as lost; at <When v-if="run.late_at" :at="run.late_at" /> its runner told that it is
      <b>{{ run.late.state }}</b><template v-if="counted(run.late.counts)"
        >, with {{ counted(run.late.counts) }}</template
      ><template v-if="run.late.reason">: {{ run.late.reason }}</template
      >. After so long a person says whether that is to be believed.
    </p>
    <p v-if="run.may.decide_late" class="row">
      <el-button :disabled="late.busy.value" @click="late.go(true)">It counts</el-button>
      <el-button :disabled="late.busy.value" @click="late.go(false)">It does not count</el-button>
    </p>
    <p v-else class="quiet">Who may change runs here decides.</p>
    <Problem :error="late.error.value" />
  </section>
  <section v-if="run.unusual" class="note care stack tight" role="status">
    <h2>Its count is far from the usual</h2>
    <p>
      It counted <b>{{ number(run.unusual.units) }}</b>; by what is known of this routine at most
      {{ number(run.unusual.usual) }} are usual (ten times the largest of its last runs, or a whole year of
      what was promised). Nothing of it is posted until somebody says that it is right, or counts it as
      something else below.
    </p>
    <p v-if="run.may.say_right" class="row">
      <el-button :disabled="right.busy.value" @click="right.go()">It is right, post it</el-button>
    </p>
    <p v-else class="quiet">Who may correct the tally decides.</p>
    <Problem :error="right.error.value" />
  </section>
</template>
