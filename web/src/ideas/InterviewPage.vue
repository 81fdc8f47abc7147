<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import WorkingView from '@/shared/WorkingView.vue'
import IdeaFiles from './IdeaFiles.vue'
import JoinIdea from './JoinIdea.vue'
import QuestionDrawing from './QuestionDrawing.vue'
import QuestionField from '@/shared/QuestionField.vue'
import { filled, said, type Question } from '@/shared/questions'
import { useUnsaved } from '@/shared/unsaved'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const id = computed(() => Number(route.params.id) || 0)

// An amendment says what it wants changed from the first click on.
const amends = computed(() => Number(route.query.amends) || null)
// The draft is made when the interview is opened, once per visit, so that every answer has a home.
const begun = useAction(async (key: string) =>
  ask(
    api.POST('/api/v1/ideas', {
      params: { header: { 'idempotency-key': key } },
      body: { interview: 'full', amends: amends.value },
    }),
  ),
)
onMounted(async () => {
  if (id.value) return
  const made = await begun.go(newKey())
  if (made) await router.replace(`/ideas/new/${made.id}`)
})

const query = useQuery({
  queryKey: ['ideas', 'one', id],
  enabled: () => id.value > 0,
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}', { params: { path: { number: id.value } } })),
})
const idea = computed(() => query.data.value)
const questions = computed<Question[]>(() => idea.value?.answers ?? [])
const place = computed(() => {
  const wanted = route.query.q
  if (wanted === 'all') return questions.value.length
  const found = questions.value.findIndex((question) => question.key === wanted)
  return found < 0 ? 0 : found
})
const question = computed(() => questions.value[place.value])
const last = computed(() => place.value >= questions.value.length)

const value = ref<unknown>(null)
const remark = ref('')
const touched = ref(false)
const kept = ref('')
watch([value, remark], () => void nextTick(() => (touched.value = changed.value)), { deep: true })
const changed = computed(
  () =>
    question.value !== undefined &&
    (JSON.stringify(value.value) !== JSON.stringify(question.value.value ?? null) ||
      remark.value !== (question.value.remark ?? '')),
)

const save = useAction(async (given: unknown, said: string) => {
  const key = question.value?.key ?? ''
  await ask(
    api.PUT('/api/v1/ideas/{number}/answers/{question}', {
      params: { path: { number: id.value, question: key } },
      body: { value: given, remark: said || null },
    }),
  )
  kept.value = 'Kept.'
})

watch(
  () => question.value?.key,
  () => {
    value.value = question.value?.value ?? null
    remark.value = question.value?.remark ?? ''
    touched.value = false
    kept.value = ''
    save.error.value = null
  },
  { immediate: true },
)
/** Keeps what was typed, if it is enough to be kept; gives whether the way is free. */
async function keep(): Promise<boolean> {
  const now = question.value
  if (!now || now.kind === 'files' || !changed.value) return true
  const given = filled(now, value.value) ? value.value : null
  await save.go(given, remark.value)
  return save.error.value === null
}
const settled = refDebounced(
  computed(() => JSON.stringify([value.value, remark.value])),
  900,
)
watch(settled, () => touched.value && void keep())

function go(to: number) {
  const target = questions.value[to]
  void router.push({ query: { q: target ? target.key : 'all' } })
}
async function next() {
  if (await keep()) go(place.value + 1)
}
async function unknown() {
  value.value = null
  await save.go(null, remark.value)
  if (!save.error.value) go(place.value + 1)
}
// The last answer is kept on leaving; what could not be kept is asked about like any unsaved words.
onBeforeRouteLeave(async () => {
  await keep()
})
useUnsaved('Your answer', () => touched.value && changed.value)

const choose = useAction(async (kind: string) => {
  if (!(await keep())) return
  await ask(
    api.PUT('/api/v1/ideas/{number}/interview', {
      params: { path: { number: id.value } },
      body: { interview: kind },
    }),
  )
})
// With volume and minutes the hours in reach can be said, however wide.
const sized = computed(() =>
  ['volume', 'minutes'].every(
    (key) => (questions.value.find((one) => one.key === key)?.value ?? null) !== null,
  ),
)

const joining = ref<number | null>(null)
/** What was typed is kept first: it is what the other idea is like. */
async function beginJoin(other: number) {
  if (await keep()) joining.value = other
}

const handIn = useAction(async () => {
  await ask(api.POST('/api/v1/ideas/{number}/hand-in', { params: { path: { number: id.value } } }))
  await queries.invalidateQueries({ queryKey: ['ideas'] })
  await router.replace({ path: `/ideas/${id.value}`, query: { handed: '1', figure: 'reach' } })
})
const lacking = computed(() => questions.value.filter((one) => one.needed && one.value === null))
const answered = computed(
  () => questions.value.filter((one) => one.value !== null && one.value !== undefined).length,
)

const title = computed(() =>
  question.value?.key === 'title' ? String(value.value ?? '') : (idea.value?.title ?? ''),
)
const typed = refDebounced(title, 350)
const similar = useQuery({
  queryKey: ['ideas', 'similar', typed],
  enabled: () => typed.value.length > 4,
  queryFn: () =>
    ask(
      api.GET('/api/v1/ideas/similar', {
        params: { query: { title: typed.value, what: idea.value?.what ?? '', but: id.value } },
      }),
    ),
})
</script>

<template>
  <div class="stack">
    <Problem :error="begun.error.value" />
    <Loaded :pending="query.isPending.value && !begun.error.value" :error="query.error.value">
      <p v-if="idea && idea.stage !== 'draft'" class="note">
        This idea was handed in. <router-link :to="`/ideas/${id}`">See where it stands.</router-link>
      </p>
      <template v-else-if="question && !last">
        <div>
          <p class="quiet">
            {{ idea?.amends_id ? `A change to I-${idea.amends_id} ${idea.amends_title}` : 'Hand in an idea' }}
            · {{ question.step }} · question {{ place + 1 }} of {{ questions.length }}
          </p>
          <div class="strokes" aria-hidden="true">
            <i
              v-for="(one, n) in questions"
              :key="one.key"
              :class="{ on: n <= place, there: one.value !== null }"
            />
          </div>
        </div>
        <form class="stack" @submit.prevent="next">
          <div class="asked">
            <div>
              <h1>{{ question.text }}</h1>
              <p class="lead">{{ question.help }}</p>
            </div>
            <QuestionDrawing :question="question.key" />
          </div>
          <IdeaFiles v-if="question.kind === 'files'" :idea="id" :files="idea?.files ?? []" change />
          <QuestionField
            v-else
            :key="question.key"
            v-model="value"
            :question="question"
            :fault="faultOf(save.error.value, question.key)"
          />
          <details v-if="question.kind !== 'files' && question.kind !== 'text'" :open="remark !== ''">
            <summary class="quiet">Add a remark</summary>
            <el-input v-model="remark" :rows="2" aria-label="Remark" maxlength="2200" type="textarea" />
          </details>
          <Problem :error="save.error.value" :fields="[question.key]" />
          <div class="row">
            <el-button :disabled="place === 0" @click="go(place - 1)">Back</el-button>
            <el-button type="primary" native-type="submit">Next</el-button>
            <el-button
              v-if="!question.needed && question.kind !== 'files'"
              link
              type="primary"
              @click="unknown"
            >
              I do not know
            </el-button>
            <span class="quiet" role="status">{{ save.busy.value ? 'Keeping …' : kept }}</span>
          </div>
        </form>
        <fieldset v-if="place === 0 && (idea?.interviews.length ?? 0) > 1" class="kinds">
          <legend class="quiet">How would you like to be asked?</legend>
          <el-radio
            v-for="one in idea?.interviews"
            :key="one.kind"
            :class="{ on: idea?.interview === one.kind }"
            name="interview"
            :model-value="idea?.interview"
            @change="choose.go(one.kind)"
            ><span>
              <b>{{ one.title }}</b>
              <span class="quiet">{{ one.about }}</span>
            </span></el-radio
          >
        </fieldset>
        <Problem :error="choose.error.value" />
      </template>
      <div v-else-if="idea" class="stack">
        <div>
          <h1>A last look</h1>
          <p class="lead">
            Change what is wrong; then hand it in. A reviewer reads it within five working days.
          </p>
        </div>
        <table class="ledger">
          <tbody>
            <tr v-for="(one, n) in questions" :key="one.key">
              <td>
                <span class="quiet">{{ one.text }}</span>
                <div v-if="one.kind === 'files'">
                  {{
                    idea.files.length ? idea.files.map((file) => file.name).join(', ') : 'nothing attached'
                  }}
                </div>
                <div v-else :class="{ care: one.value === null }">{{ said(one) }}</div>
                <div v-if="one.remark" class="quiet">“{{ one.remark }}”</div>
              </td>
              <td class="num"><el-button link type="primary" @click="go(n)">Change</el-button></td>
            </tr>
          </tbody>
        </table>
        <p v-if="lacking.length" class="note care">
          Still needed to hand it in:
          <template v-for="one in lacking" :key="one.key">
            <el-button link type="primary" @click="go(questions.indexOf(one))">{{ one.text }}</el-button>
          </template>
        </p>
        <Problem :error="handIn.error.value" />
        <div class="row">
          <el-button @click="go(questions.length - 1)">Back</el-button>
          <el-button :disabled="lacking.length > 0 || handIn.busy.value" type="primary" @click="handIn.go()">
            Hand it in
          </el-button>
          <span v-if="lacking.length" class="quiet">The needed answers come first.</span>
        </div>
      </div>
    </Loaded>
    <MarginNotes holds>
      <section v-if="idea && (sized || answered > 3)" class="stack tight">
        <span class="quiet">As far as answered</span>
        <WorkingView :working="idea.look" />
      </section>
      <section v-else-if="!idea || idea.stage === 'draft'" class="stack tight">
        <h2>Five minutes</h2>
        <p class="quiet">
          One question at a time; guesses are welcome and “I do not know” is an answer. Everything is kept as
          you go, so you can leave and come back. At the end you see how many hours may be in reach.
        </p>
      </section>
      <p v-if="question?.key === 'title' && !answered" class="quiet">
        Nothing comes to mind? <router-link to="/ideas/begin">Typical work to begin with</router-link>
      </p>
      <section v-if="similar.data.value?.length" class="stack tight">
        <h2>Like what others handed in</h2>
        <div v-for="one in similar.data.value" :key="one.id">
          I-{{ one.id }} {{ one.title ?? 'is seen by those with a part in it' }}
          <div class="quiet">
            {{ one.stage ? `${one.stage}; both` : 'Both' }} say {{ one.words.join(', ') }}
          </div>
          <JoinIdea
            v-if="joining === one.id"
            :idea="one.id"
            :draft="id"
            @done="router.push(`/ideas/${one.id}?sheet=talk`)"
            @leave="joining = null"
          />
          <el-button v-else-if="one.may_join" link type="primary" @click="beginJoin(one.id)">
            It is the same work: join it
          </el-button>
        </div>
        <p class="quiet">
          Joining counts your volume there, and spares you the interview; this draft is kept.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.asked {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  align-items: flex-start;
}
@media (max-width: 560px) {
  .asked :deep(.drawing) {
    width: 56px;
    height: 48px;
  }
}
.kinds {
  border: 0;
  border-top: 1px solid var(--hair);
  padding: 10px 0 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
}
.kinds label {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  max-width: 240px;
}
.kinds label span {
  display: block;
}
.kinds .on b {
  border-bottom: 2px solid var(--ink);
}
.strokes {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.strokes i {
  width: 2px;
  height: 14px;
  background: var(--hair-2);
}
.strokes i.there {
  background: var(--ink-2);
}
.strokes i.on {
  background: var(--act);
}
</style>
