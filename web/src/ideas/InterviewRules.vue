<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import QuestionRule from './QuestionRule.vue'
import VersionNote from './VersionNote.vue'
import { copied, emptyInterview, ownKey, sent, type InterviewDraft } from './interviewDraft'

/** The interviews: steps and questions in order, put in, left out and worded; each change a version. */
const query = useQuery({
  queryKey: ['rules', 'interviews'],
  queryFn: () => ask(api.GET('/api/v1/rules/interviews')),
})
const kind = ref('full')
const draft = ref<InterviewDraft | null>(null)
const was = ref('')
const note = ref('')
const found = computed(() => query.data.value?.find((one) => one.kind === kind.value))
const changed = computed(() => draft.value !== null && JSON.stringify(sent(draft.value)) !== was.value)
function read() {
  draft.value = found.value ? copied(found.value) : null
  was.value = draft.value ? JSON.stringify(sent(draft.value)) : ''
  note.value = ''
}
watch(found, () => (changed.value ? undefined : read()), { immediate: true })
function choose(to: string) {
  if (changed.value && !window.confirm('What you changed here is not kept yet. Leave it?')) return
  kind.value = to
  making.value = false
  read()
}
const keep = useAction(async () => {
  if (!draft.value) return
  await ask(
    api.PUT('/api/v1/rules/interviews/{kind}', {
      params: {
        path: { kind: kind.value },
        header: { 'if-match': `"${seen.value}"` },
      },
      body: { ...sent(draft.value), note: note.value },
    }),
  )
  was.value = JSON.stringify(sent(draft.value))
  note.value = ''
  making.value = false
}, [['rules'], ['ideas']])
const seen = useSeen(
  () => found.value?.version,
  keep.error,
  () => changed.value,
)
// What somebody else kept meanwhile is read; what is typed stays.
watch(keep.error, (error) => error && void query.refetch())

const making = ref(false)
const name = ref('')
const taken = computed(() => query.data.value?.some((one) => one.kind === name.value) ?? false)
function make() {
  kind.value = name.value
  draft.value = emptyInterview(query.data.value?.find((one) => one.kind === 'full'))
  was.value = ''
  making.value = false
}

type Question = InterviewDraft['steps'][number]['questions'][number]
const places = computed(() =>
  (draft.value?.steps ?? []).flatMap((step, s) => step.questions.map((question, n) => ({ s, n, question }))),
)
/** One place up or down, over the edge of a step into the next. */
function shift(s: number, n: number, by: 1 | -1) {
  const steps = draft.value?.steps
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
  const [question] = draft.value?.steps[s]?.questions.splice(n, 1) ?? []
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
  draft.value?.steps.forEach((step, s) => {
    names.push(`steps[${s}].title`)
    step.questions.forEach((_, n) => names.push(`steps[${s}].questions[${n}].text`))
  })
  return names
})
const versions = computed<Schemas['VersionRow'][]>(() => found.value?.versions ?? [])
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div class="stack">
      <p class="row" role="group" aria-label="Interviews">
        <el-button
          v-for="one in query.data.value"
          :key="one.kind"
          class="chip"
          :class="{ on: one.kind === kind }"
          @click="choose(one.kind)"
        >
          {{ one.title }}<span v-if="!one.offered" class="quiet"> · not offered</span>
        </el-button>
        <el-button :aria-expanded="making" link type="primary" @click="making = !making"
          >Another interview</el-button
        >
      </p>
      <form v-if="making" class="note row" @submit.prevent="make">
        <Field
          v-slot="{ id }"
          label="A short key for it"
          :fault="taken ? 'there is one of this key' : undefined"
        >
          <el-input
            :id="id"
            v-model="name"
            maxlength="19"
            pattern="[a-z][a-z0-9-]{1,18}"
            placeholder="desk"
          />
        </Field>
        <el-button :disabled="taken || !/^[a-z][a-z0-9-]{1,18}$/.test(name)" native-type="submit"
          >Begin it</el-button
        >
        <span class="quiet">small letters, digits and dashes; it begins as a copy of the whole one</span>
      </form>
      <template v-if="draft">
        <div class="row top">
          <Field
            v-slot="{ id }"
            label="Name, as people choose it"
            :fault="faultOf(keep.error.value, 'title')"
          >
            <el-input :id="id" v-model="draft.title" style="--chars: 30" maxlength="220" />
          </Field>
          <Field v-slot="{ id }" label="For whom" :fault="faultOf(keep.error.value, 'about')">
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
              :aria-invalid="!!faultOf(keep.error.value, `steps[${s}].title`)"
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
            :fault="faultOf(keep.error.value, `steps[${s}].questions[${n}]`)"
            @shift="(by: 1 | -1) => shift(s, n, by)"
            @take="take(s, n)"
          />
          <p>
            <el-select
              model-value=""
              :aria-label="`Add a question to step ${s + 1}`"
              placeholder="add a question …"
              filterable
              @change="(now: string) => put(s, now)"
            >
              <el-option v-for="one in draft.left_out" :key="one.key" :value="one.key" :label="one.text" />
              <el-option value="own" label="a question of our own" />
            </el-select>
          </p>
        </section>
        <p>
          <el-button @click="draft.steps.push({ title: 'Another step', questions: [] })"
            >Add a step</el-button
          >
        </p>
        <VersionNote
          v-model="note"
          :version="found?.version ?? 0"
          :versions="versions"
          :changed="changed"
          :busy="keep.busy.value"
          :error="keep.error.value"
          :fields="fields"
          @keep="keep.go()"
          @leave="read"
        />
        <p class="quiet">
          Drafts are asked by the newest version. An answer to a question that is taken out stays with its
          idea. Questions of your own are kept, shown and found, and count for nothing in the first look.
        </p>
      </template>
    </div>
  </Loaded>
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
