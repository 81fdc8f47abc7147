<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import IdeaFiles from './IdeaFiles.vue'
import QuestionField from '@/shared/QuestionField.vue'
import { filled, type Question } from '@/shared/questions'
import { useUnsaved } from '@/shared/unsaved'
import InterviewKinds from './InterviewKinds.vue'
import InterviewLike from './InterviewLike.vue'
import InterviewLook from './InterviewLook.vue'
import InterviewWay from './InterviewWay.vue'
import AskedQuestion from './AskedQuestion.vue'
import { useBegun } from './useBegun'
import InterviewNotes from './InterviewNotes.vue'
import Fold from '@/shared/Fold.vue'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const id = computed(() => Number(route.params.id) || 0)

const begun = useBegun(id)
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

const handIn = useAction(async () => {
  await ask(api.POST('/api/v1/ideas/{number}/hand-in', { params: { path: { number: id.value } } }))
  await queries.invalidateQueries({ queryKey: ['ideas'] })
  await router.replace({ path: `/ideas/${id.value}`, query: { handed: '1', figure: 'reach' } })
})
const lacking = computed(() => questions.value.filter((one) => one.needed && one.value === null))
const title = computed(() =>
  question.value?.key === 'title' ? String(value.value ?? '') : (idea.value?.title ?? ''),
)
</script>

<template>
  <div class="stack">
    <Problem :error="begun.error.value" />
    <Loaded :pending="query.isPending.value && !begun.error.value" :error="query.error.value">
      <p v-if="idea && idea.stage !== 'draft'" class="note">
        This idea was handed in. <router-link :to="`/ideas/${id}`">See where it stands.</router-link>
      </p>
      <template v-else-if="question && !last">
        <InterviewWay :idea="idea" :questions="questions" :question="question" :place="place" />
        <form class="stack" @submit.prevent="next">
          <AskedQuestion :question="question" />
          <IdeaFiles v-if="question.kind === 'files'" :idea="id" :files="idea?.files ?? []" change />
          <QuestionField
            v-else
            :key="question.key"
            v-model="value"
            :question="question"
            :fault="faultOf(save.error.value, question.key)"
          />
          <Fold
            v-if="question.kind !== 'files' && question.kind !== 'text'"
            :key="question.key"
            words="Add a remark"
            :open="remark !== ''"
          >
            <el-input v-model="remark" :rows="2" aria-label="Remark" maxlength="2200" type="textarea" />
          </Fold>
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
        <InterviewKinds
          v-if="idea && place === 0 && idea.interviews.length > 1"
          :idea="idea"
          @choose="choose.go"
        />
        <Problem :error="choose.error.value" />
      </template>
      <InterviewLook
        v-else-if="idea"
        :idea="idea"
        :questions="questions"
        :lacking="lacking"
        :busy="handIn.busy.value"
        :error="handIn.error.value"
        @go="go"
        @hand-in="handIn.go()"
      />
    </Loaded>
    <MarginNotes holds>
      <InterviewNotes :idea="idea" :questions="questions" :asked="question?.key" />
      <InterviewLike :id="id" :title="title" :what="idea?.what ?? ''" :keep="keep" />
    </MarginNotes>
  </div>
</template>
