<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import QuestionField from '@/shared/QuestionField.vue'
import { filled, type Question } from '@/shared/questions'
import DayField from '@/shared/DayField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import Fold from '@/shared/Fold.vue'
import { several } from '@/shared/format'

/** The team enters an idea on one page: past the review, or as something that runs already. */
const router = useRouter()
const query = useQuery({
  queryKey: ['entry', 'questions'],
  queryFn: () => ask(api.GET('/api/v1/entries/questions')),
  staleTime: 60_000,
})
const questions = computed(() => (query.data.value ?? []) as unknown as Question[])
const first = computed(() => questions.value.filter((one) => one.key === 'title' || one.key === 'what'))
const rest = computed(() => questions.value.filter((one) => one.key !== 'title' && one.key !== 'what'))
const values = ref<Record<string, unknown>>({})
const stage = ref('screened')
const why = ref('')
const since = ref('')
const runsOn = ref('')
const key = newKey()
const { zone } = useMe()
const today = dayIn(zone.value)
const enter = useAction(async () => {
  const given = questions.value.filter((one) => filled(one, values.value[one.key]))
  const made = await ask(
    api.POST('/api/v1/entries', {
      params: { header: { 'idempotency-key': key } },
      body: {
        answers: Object.fromEntries(given.map((one) => [one.key, values.value[one.key]])),
        stage: stage.value,
        why: why.value,
        since: stage.value === 'in service' && since.value ? since.value : null,
        runs_on: runsOn.value,
      },
    }),
  )
  unsent.done()
  await router.push(`/ideas/${made.id}${stage.value === 'in service' ? '?sheet=tally' : ''}`)
})
const STAGES = [
  {
    value: 'screened',
    words: 'A new idea that the team has looked at already',
    help: 'It skips the first review and is sized next.',
  },
  {
    value: 'noted',
    words: 'A new idea that goes through the review',
    help: 'As if it came from the interview.',
  },
  {
    value: 'in service',
    words: 'An automation that runs already',
    help: 'In service from its day on; its value is given by hand, a list or a program until a routine counts.',
  },
]
const unsent = useDraft('The idea', () => 'enter', { values, stage, why, since, runsOn })
const fields = computed(() => [...questions.value.map((one) => one.key), 'why', 'since', 'runs_on', 'stage'])
</script>

<template>
  <div class="stack">
    <div>
      <h1>Enter an idea for the team</h1>
      <p class="lead">
        On one page, without the interview. Who entered it, and what was said for it, is recorded.
      </p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <form class="stack" @submit.prevent="enter.go()">
        <DraftNote :draft="unsent" />
        <fieldset class="what">
          <legend class="quiet">What is it?</legend>
          <el-radio
            v-for="one in STAGES"
            :key="one.value"
            v-model="stage"
            :class="{ on: stage === one.value }"
            name="stage"
            :value="one.value"
            ><span
              ><b>{{ one.words }}</b> <span class="quiet">{{ one.help }}</span></span
            ></el-radio
          >
        </fieldset>
        <div v-for="one in first" :key="one.key" class="stack tight">
          <span>{{ one.text }} <span class="quiet">needed</span></span>
          <QuestionField
            :model-value="values[one.key] ?? null"
            :question="one"
            :still="one.key !== 'title'"
            :fault="faultOf(enter.error.value, one.key)"
            @update:model-value="(now: unknown) => (values[one.key] = now)"
          />
        </div>
        <div class="row top">
          <template v-if="stage === 'in service'">
            <Field v-slot="{ id }" label="It runs since" :fault="faultOf(enter.error.value, 'since')">
              <DayField :id="id" v-model="since" :max="today" />
            </Field>
            <Field
              v-slot="{ id }"
              label="Where it runs"
              help="host, tool or place, if it is not in Robots"
              :fault="faultOf(enter.error.value, 'runs_on')"
            >
              <el-input :id="id" v-model="runsOn" style="--chars: 34" maxlength="220" />
            </Field>
          </template>
          <Field
            v-if="stage !== 'noted'"
            v-slot="{ id }"
            :label="stage === 'in service' ? 'How we know that it runs' : 'Why it skips the review'"
            :fault="faultOf(enter.error.value, 'why')"
          >
            <el-input :id="id" v-model="why" style="--chars: 46" maxlength="1000" />
          </Field>
        </div>
        <Fold
          :words="`What else is known (${several(rest.length, 'question', 'questions')}; each narrows the first look)`"
        >
          <div class="rest">
            <div v-for="one in rest" :key="one.key" class="stack tight">
              <span class="quiet">{{ one.text }}</span>
              <QuestionField
                :model-value="values[one.key] ?? null"
                :question="one"
                still
                :fault="faultOf(enter.error.value, one.key)"
                @update:model-value="(now: unknown) => (values[one.key] = now)"
              />
            </div>
          </div>
        </Fold>
        <Problem :error="enter.error.value" :fields="fields" />
        <p class="row">
          <el-button :disabled="enter.busy.value" type="primary" native-type="submit">Enter it</el-button>
          <router-link to="/ideas" class="button">Cancel</router-link>
        </p>
      </form>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>Other ways in</h2>
        <p class="quiet">
          Many at once: <router-link to="/ideas/bring">bring a list</router-link> from a spreadsheet. A
          program of yours can do the same through the API, with a token.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.what {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.what label {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.what .on b {
  border-bottom: 2px solid var(--ink);
}
.top {
  align-items: flex-start;
  gap: 20px;
}
.rest {
  display: grid;
  gap: 16px;
  padding-top: 12px;
}
summary {
  cursor: pointer;
  color: var(--act);
}
</style>
