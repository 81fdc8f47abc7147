<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { written } from '@/shared/differing'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'
import QuestionRule from './QuestionRule.vue'
import { copied, emptyInterview, ownKey, sent, type InterviewDraft } from './interviewDraft'
import Choice from '@/shared/Choice.vue'

/** One interview: its steps and questions in order, put in, left out and worded; each change a version. */
const props = defineProps<{
  kind: string
  interview?: Schemas['InterviewOut']
  like?: Schemas['InterviewOut']
}>()
const settings = useSettings<InterviewDraft>({
  what: 'The interview',
  name: `interview-${props.kind}`,
  rule: () => props.interview,
  given: () => (props.interview ? copied(props.interview) : emptyInterview(props.like)),
  put: (draft, note, header) =>
    ask(
      api.PUT('/api/v1/rules/interviews/{kind}', {
        params: { path: { kind: props.kind }, header },
        body: { ...sent(draft), note },
      }),
    ),
  touched: [['rules'], ['ideas']],
})
const { fields: draft, save } = settings
const said = (path: string, value: unknown): string | undefined =>
  path === 'steps' || path === 'left_out'
    ? (value as { title?: string; text?: string; questions?: { text: string }[] }[])
        .map((one) => [one.title ?? one.text, ...(one.questions ?? []).map((two) => two.text)].join('\n  '))
        .join('\n')
    : written(value)

type Question = InterviewDraft['steps'][number]['questions'][number]
const places = computed(() =>
  draft.value.steps.flatMap((step, s) => step.questions.map((question, n) => ({ s, n, question }))),
)
/** One place up or down, over the edge of a step into the next. */
function shift(s: number, n: number, by: 1 | -1) {
  const steps = draft.value.steps
  const step = steps?.[s]
  if (!steps || !step) return
  const to = n + by
  const [question] = step.questions.splice(n, 1)
  if (!question) return
  if (to >= 0 && to <= step.questions.length) step.questions.splice(to, 0, question)
  else if (by < 0 && steps[s - 1]) steps[s - 1]!.questions.push(question)
  else if (by > 0 && steps[s + 1]) steps[s + 1]!.questions.unshift(question)
  else step.questions.splice(n, 0, question)
}
function take(s: number, n: number) {
  const [question] = draft.value.steps[s]?.questions.splice(n, 1) ?? []
  if (question?.standard && draft.value) draft.value.left_out.push(question)
}
function put(s: number, chosen: string) {
  if (!draft.value || !chosen) return
  const step = draft.value.steps[s]
  if (chosen === 'own') {
    const key = ownKey(places.value.map((one) => one.question.key))
    step?.questions.push({
      key,
      text: '',
      help: '',
      needed: false,
      kind: 'line',
      standard: false,
      choices: [],
    })
    return
  }
  const at = draft.value.left_out.findIndex((one) => one.key === chosen)
  const [question] = draft.value.left_out.splice(at, 1)
  if (question) step?.questions.push(question as Question)
}
const ALWAYS = ['title', 'what']
const fields = computed(() => {
  const names = ['title', 'about']
  draft.value.steps.forEach((step, s) => {
    names.push(`steps[${s}].title`)
    step.questions.forEach((_, n) => names.push(`steps[${s}].questions[${n}].text`))
  })
  return names
})
</script>

<template>
  <SettingsForm
    :settings="settings"
    :fields="fields"
    :names="{ title: 'Name', about: 'For whom', steps: 'Steps and questions', left_out: 'Left out' }"
    :say="said"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Name, as people choose it" :fault="faultOf(save.error.value, 'title')">
        <el-input :id="id" v-model="draft.title" style="--chars: 30" maxlength="220" />
      </Field>
      <Field v-slot="{ id }" label="For whom" :fault="faultOf(save.error.value, 'about')">
        <el-input :id="id" v-model="draft.about" style="--chars: 44" maxlength="220" />
      </Field>
      <el-checkbox v-model="draft.offered" class="offered">offered</el-checkbox>
    </div>
    <section v-for="(step, s) in draft.steps" :key="s" class="step stack tight">
      <div class="row">
        <span class="quiet">Step {{ s + 1 }}</span>
        <el-input
          v-model="step.title"
          style="--chars: 30"
          maxlength="220"
          :aria-label="`Heading of step ${s + 1}`"
          :aria-invalid="!!faultOf(save.error.value, `steps[${s}].title`)"
        />
        <el-button v-if="!step.questions.length" link type="danger" @click="draft.steps.splice(s, 1)">
          Take the step out
        </el-button>
      </div>
      <QuestionRule
        v-for="(question, n) in step.questions"
        :key="question.key"
        :model-value="question"
        :first="s === 0 && n === 0"
        :last="s === draft.steps.length - 1 && n === step.questions.length - 1"
        :always="ALWAYS.includes(question.key)"
        :fault="faultOf(save.error.value, `steps[${s}].questions[${n}]`)"
        @shift="(by: 1 | -1) => shift(s, n, by)"
        @take="take(s, n)"
      />
      <p>
        <Choice
          :model-value="'' as string"
          :label="`Add a question to step ${s + 1}`"
          placeholder="add a question …"
          :options="[
            ...draft.left_out.map((one) => ({ value: one.key, words: one.text })),
            { value: 'own', words: 'a question of our own' },
          ]"
          @update:model-value="(now) => put(s, now)"
        />
      </p>
    </section>
    <p>
      <el-button @click="draft.steps.push({ title: 'Another step', questions: [] })">Add a step</el-button>
    </p>
    <p class="quiet">
      Drafts are asked by the newest version. An answer to a question that is taken out stays with its idea.
      Questions of your own are kept, shown and found, and count for nothing in the first look.
    </p>
  </SettingsForm>
</template>

<style scoped>
.step {
  border-top: 1px solid var(--hair-2);
  padding-top: 10px;
}
.top {
  align-items: flex-start;
  gap: 20px;
}
.offered {
  padding-top: 22px;
}
</style>
