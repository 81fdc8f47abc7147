<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Choice from '@/shared/Choice.vue'
import { number } from '@/shared/format'
import { useKeys } from '@/shared/keys'
import Problem from '@/shared/Problem.vue'
import { doing as pending, takeBack, useSoon } from '@/shared/undo'
import AskBack from './AskBack.vue'
import CloseMatches from './CloseMatches.vue'
import DeclineIdea from './DeclineIdea.vue'
import MergeIdea from './MergeIdea.vue'
import { useReviewQueue } from './useReviewQueue'

/** The review: close matches settled, then screened, merged, declined or asked back; by keys alone, in a row. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
type Match = Schemas['Match']
const route = useRoute()
const desk = ref<HTMLElement | null>(null)
const doing = ref<'' | 'decline' | 'merge' | 'ask'>('')
const expert = ref<number | null>(null)
const queue = useReviewQueue(() => ({ id: props.idea.id, due: props.idea.next.due }))
const asked = computed(() => props.idea.matches.filter((one) => one.plausible || one.verdict))
const unlikely = computed(() => props.idea.matches.filter((one) => !asked.value.includes(one)))
// Said of all at once, and not sent yet, so that it can be taken back.
const allOther = ref(false)
const verdict = (one: Match): string | null => one.verdict ?? (allOther.value ? 'other' : null)
const unsettled = computed(() => asked.value.filter((one) => !verdict(one)))
const same = computed(() => props.idea.matches.filter((one) => one.verdict === 'same'))
const back = computed(() => props.idea.answers.filter((answer) => answer.state === 'sent back'))
const hindrance = computed(() => {
  if (unsettled.value.length) return 'Say first which are the same work.'
  if (back.value.length) return `${back.value.length} sent back, not answered yet.`
  if (same.value.length) return `I-${same.value[0]?.id} is the same work: merge this one into it.`
  return ''
})
const params = computed(() => ({ path: { number: props.idea.id } }))
const settle = useAction((one: Match, said: 'same' | 'other') =>
  ask(
    api.PUT('/api/v1/ideas/{number}/matches/{other}', {
      params: { path: { ...params.value.path, other: one.id } },
      body: { verdict: said },
    }),
  ),
)
const toggle = (one: Match | undefined) =>
  one && void settle.go(one, verdict(one) === 'same' ? 'other' : 'same')
const soon = useSoon()
const OTHERS = computed(() => `/ideas/${props.idea.id}#others`)
function others() {
  const at = params.value
  allOther.value = true
  soon(
    `What is like I-${props.idea.id} is other work`,
    OTHERS.value,
    (init) => ask(api.POST('/api/v1/ideas/{number}/matches/others', { params: at, ...init })),
    () => (allOther.value = false),
  )
}
/** Screens it in a moment, so that a key pressed by mistake can be taken back, and goes on to the next. */
const screen = useAction(async () => {
  const at = params.value
  const body = { expert_id: expert.value, others: allOther.value }
  // What was said of all goes along with it.
  const said = pending.value.find((one) => one.about === OTHERS.value)
  if (said) takeBack(said)
  soon(`I-${props.idea.id} ${props.idea.title} is screened`, `/ideas/${props.idea.id}`, (init) =>
    ask(api.POST('/api/v1/ideas/{number}/screen', { params: at, body, ...init })),
  )
  await queue.go(1)
}, [])
const onwards = () => void queue.go(1)

// Whoever goes through the queue by keys stays at the desk, whichever idea comes next.
const arrive = () => route.query.review && void nextTick(() => desk.value?.focus({ preventScroll: true }))
onMounted(arrive)
watch(
  () => props.idea.id,
  () => {
    doing.value = ''
    expert.value = null
    allOther.value = pending.value.some((one) => one.about === OTHERS.value)
    arrive()
  },
)
useKeys([
  {
    key: 's',
    words: 'Screen it, and on to the next review',
    when: () => !hindrance.value,
    act: () => void screen.go(),
  },
  { key: 'd', words: 'Decline it', act: () => (doing.value = 'decline') },
  { key: 'b', words: 'Ask its proposer back', act: () => (doing.value = 'ask') },
  {
    key: 'o',
    words: 'All that are like it are other work',
    when: () => unsettled.value.length > 0,
    act: others,
  },
  ...[0, 1, 2, 3].map((n) => ({
    key: String(n + 1),
    words: `Number ${n + 1} that is like it: the same work; again: other work`,
    when: () => n < asked.value.length,
    act: () => toggle(asked.value[n]),
  })),
  {
    key: 'm',
    words: 'Merge it into the one that is the same work',
    when: () => same.value.length > 0,
    act: () => (doing.value = 'merge'),
  },
  { key: 'n', words: 'Leave it, and on to the next review', act: onwards },
  { key: 'p', words: 'Back to the review before it', act: () => void queue.go(-1) },
])
</script>

<template>
  <section ref="desk" class="desk stack tight" tabindex="-1" aria-label="Review">
    <div class="spread">
      <h2>Review</h2>
      <span v-if="queue.place.value" class="quiet"
        >{{ number(queue.place.value.at) }} of {{ number(queue.place.value.of) }} waiting</span
      >
    </div>
    <CloseMatches
      :asked="asked"
      :unlikely="unlikely"
      :verdict="verdict"
      @settle="(one, said) => void settle.go(one, said)"
    />
    <p v-if="unsettled.length > 1">
      <el-button link type="primary" @click="others">All of these are other work</el-button>
    </p>
    <Problem :error="settle.error.value ?? screen.error.value" />
    <DeclineIdea v-if="doing === 'decline'" :idea="idea" soon @done="onwards" @leave="doing = ''" />
    <AskBack v-else-if="doing === 'ask'" :idea="idea" @done="onwards" @leave="doing = ''" />
    <MergeIdea
      v-else-if="doing === 'merge' && same[0]"
      :idea="idea"
      :into="same[0].id"
      soon
      @done="onwards"
      @leave="doing = ''"
    />
    <template v-else>
      <label class="stack tight"
        ><span class="quiet">Sized next by</span>
        <Choice
          v-model="expert"
          nothing="any of those who size"
          :options="idea.experts.map((one) => ({ value: one.id, words: one.name }))"
        />
      </label>
      <p v-if="hindrance" class="quiet">{{ hindrance }}</p>
      <div class="row">
        <el-button :disabled="hindrance !== '' || screen.busy.value" type="primary" @click="screen.go()">
          Screen it
        </el-button>
        <el-button v-if="same[0]" type="primary" @click="doing = 'merge'"
          >Merge into I-{{ same[0].id }}</el-button
        >
        <el-button @click="doing = 'decline'">Decline</el-button>
        <el-button @click="doing = 'ask'">Ask back</el-button>
        <el-button @click="onwards">Next one</el-button>
      </div>
      <p class="quiet keys">
        Keys: <kbd>s</kbd> screens, <kbd>d</kbd> declines, <kbd>b</kbd> asks back, <kbd>o</kbd> all other,
        <kbd>1</kbd> to <kbd>4</kbd> the same, <kbd>m</kbd> merges, <kbd>n</kbd> next, <kbd>p</kbd> before,
        <kbd>u</kbd> takes back
      </p>
    </template>
  </section>
</template>

<style scoped>
.desk {
  border-left: 3px solid var(--act);
  padding-left: 14px;
  position: sticky;
  top: 12px;
  align-self: start;
}
.desk:focus {
  outline: none;
}
</style>
