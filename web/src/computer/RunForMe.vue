<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { span } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** A run that is meant for the reader: what it will do, until when, and their answer. */
const props = defineProps<{ run: Schemas['MyRun'] }>()
const path = computed(() => ({ path: { number: props.run.id } }))
const ANSWERS = [
  { answer: 'now', words: 'Now' },
  { answer: 'soon', words: 'In ten minutes' },
  { answer: 'later', words: 'Not today' },
] as const
const answer = useAction((said: Schemas['ComputerAnswer']['answer']) =>
  ask(api.POST('/api/v1/my-computer/runs/{number}/answer', { params: path.value, body: { answer: said } })),
)
const stopping = ref(false)
const stop = useAction(async () => {
  await ask(api.POST('/api/v1/my-computer/runs/{number}/stop', { params: path.value }))
  stopping.value = false
})
// What was said already is not offered again.
const answers = computed(() => ANSWERS.filter((one) => !props.run.agreed_at || one.answer === 'later'))
const waits = computed(() => props.run.state === 'waiting')
const there = computed(() =>
  props.run.attended === 'whole'
    ? 'You have to be there while it works.'
    : 'You need not stay: it works by itself.',
)
</script>

<template>
  <article class="card stack tight" :class="{ asks: run.asks }">
    <div>
      <h3>{{ run.routine }}</h3>
      <p class="quiet">
        R-{{ run.id }}, started by {{ run.started_by }}, {{ run.area
        }}<template v-if="run.on_trial">; on trial, it counts for nothing</template>
      </p>
    </div>
    <p>{{ run.about }}</p>
    <dl v-if="run.inputs.length">
      <template v-for="one in run.inputs" :key="one.name">
        <dt class="quiet">{{ one.name }}</dt>
        <dd>{{ one.value }}</dd>
      </template>
    </dl>
    <p>
      {{
        run.usual_seconds === null
          ? 'How long it takes is not known yet.'
          : `Usually ${span(run.usual_seconds)}.`
      }}
      {{ there }}
    </p>
    <p v-if="waits && run.lapses_at" class="care">
      It must have begun by <When :at="run.lapses_at" />, or it is left out.
    </p>
    <p v-if="waits && run.agreed_at" role="status">
      You agreed; it may begin from <When :at="run.agreed_at" /> on.
    </p>
    <p v-else-if="waits && !run.asks" role="status">
      Not before <When :at="run.due_at" />; then it asks again.
    </p>
    <p v-if="waits && run.waits_for" class="care">It also waits: {{ run.waits_for }}.</p>
    <p v-if="run.state === 'running'" role="status">
      It works since <When :at="run.started_at" /><template v-if="run.stopping"
        >; it is being stopped</template
      >.
    </p>
    <div class="row acts">
      <template v-if="waits">
        <el-button
          v-for="one in answers"
          :key="one.answer"
          :type="one.answer === 'now' ? 'primary' : undefined"
          :disabled="answer.busy.value"
          :aria-label="`${one.words}: R-${run.id} ${run.routine}`"
          @click="answer.go(one.answer)"
          >{{ one.words }}</el-button
        >
      </template>
      <el-button v-if="!run.stopping" link type="danger" @click="stopping = true">{{
        waits ? 'Not at all' : 'Stop it'
      }}</el-button>
      <router-link v-if="run.may_see" :to="`/runs/${run.id}`">Its page</router-link>
    </div>
    <Problem :error="answer.error.value" />
    <Confirm
      v-model="stopping"
      :title="`Stop R-${run.id}`"
      action="Stop it"
      :busy="stop.busy.value"
      @yes="stop.go()"
    >
      <p>
        {{
          waits
            ? 'It does not begin, on no day; whoever started it can start it again.'
            : 'It is asked to end; after 30 seconds it is ended. What it did by then stays done.'
        }}
      </p>
      <Problem :error="stop.error.value" />
    </Confirm>
  </article>
</template>

<style scoped>
.card {
  padding: 12px 14px;
  border: 1px solid var(--hair-2);
  max-width: 760px;
}
.asks {
  border-left: 3px double var(--care);
}
dl {
  display: grid;
  grid-template-columns: minmax(90px, max-content) minmax(0, 1fr);
  gap: 2px 14px;
  margin: 0;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.acts {
  flex-wrap: wrap;
  gap: 8px;
}
</style>
