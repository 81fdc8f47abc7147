<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import DeclineIdea from './DeclineIdea.vue'
import MergeIdea from './MergeIdea.vue'
import { isPending, useSoon } from '@/shared/undo'
import { useKeys } from '@/shared/keys'
import Choice from '@/shared/Choice.vue'

/** The review: close matches settled, then screened, merged or declined; by keys alone, many in a row. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const router = useRouter()
const doing = ref<'' | 'decline' | 'merge'>('')
const expert = ref<number | null>(null)
const unsettled = computed(() => props.idea.matches.filter((match) => !match.verdict))
const same = computed(() => props.idea.matches.filter((match) => match.verdict === 'same'))
const back = computed(() => props.idea.answers.filter((answer) => answer.state === 'sent back'))
const hindrance = computed(() => {
  if (unsettled.value.length) return 'Settle the close matches first.'
  if (back.value.length) return `${back.value.length} sent back, not answered yet.`
  if (same.value.length) return `I-${same.value[0]?.id} is the same work: merge this one into it.`
  return ''
})
const path = computed(() => ({ number: props.idea.id }))
const settle = useAction((other: number, verdict: 'same' | 'other') =>
  ask(
    api.PUT('/api/v1/ideas/{number}/matches/{other}', {
      params: { path: { ...path.value, other } },
      body: { verdict },
    }),
  ),
)
const soon = useSoon()
/** Screens it in a moment, so that a key pressed by mistake can be taken back, and goes on to the next. */
const screen = useAction(async () => {
  const params = { path: path.value }
  const body = { expert_id: expert.value }
  soon(`I-${props.idea.id} ${props.idea.title} is screened`, `/ideas/${props.idea.id}`, (init) =>
    ask(api.POST('/api/v1/ideas/{number}/screen', { params, body, ...init })),
  )
  await onwards()
}, [])
/** On to the next idea that waits for a review, or back to Today when none does. */
async function onwards() {
  const today = await ask(api.GET('/api/v1/today'))
  const next = today.waits.find(
    (one) => one.kind === 'review' && one.link !== `/ideas/${props.idea.id}` && !isPending(one.link),
  )
  await router.push(next?.link ?? '/')
}
useKeys([
  {
    key: 's',
    words: 'Screen it, and on to the next review',
    when: () => !hindrance.value,
    act: () => void screen.go(),
  },
  { key: 'd', words: 'Decline it', act: () => (doing.value = 'decline') },
  {
    key: 'm',
    words: 'Merge it into the one that is the same work',
    when: () => same.value.length > 0,
    act: () => (doing.value = 'merge'),
  },
  { key: 'n', words: 'On to the next review', act: () => void onwards() },
])
</script>

<template>
  <section class="desk stack tight">
    <h2>Review</h2>
    <p v-if="!idea.matches.length" class="quiet">No other idea is like this one.</p>
    <table v-else class="ledger">
      <thead>
        <tr>
          <th>Closest other ideas</th>
          <th style="width: 200px">Is it the same work?</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="match in idea.matches" :key="match.id">
          <td>
            <router-link class="whole" :to="`/ideas/${match.id}`"
              >I-{{ match.id }} {{ match.title }}</router-link
            >
            <span class="quiet"> {{ match.stage }}</span>
            <div class="quiet">{{ match.what }}</div>
            <div class="quiet">Both say: {{ match.words.join(', ') }}</div>
          </td>
          <td>
            <div class="row">
              <el-button
                class="chip"
                :class="{ on: match.verdict === 'same' }"
                @click="settle.go(match.id, 'same')"
              >
                Same
              </el-button>
              <el-button
                class="chip"
                :class="{ on: match.verdict === 'other' }"
                @click="settle.go(match.id, 'other')"
              >
                Other
              </el-button>
            </div>
            <span v-if="match.by" class="quiet">{{ match.by }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="settle.error.value ?? screen.error.value" />
    <DeclineIdea v-if="doing === 'decline'" :idea="idea" soon @done="onwards" @leave="doing = ''" />
    <MergeIdea
      v-else-if="doing === 'merge' && same[0]"
      :idea="idea"
      :into="same[0].id"
      soon
      @done="onwards"
      @leave="doing = ''"
    />
    <div v-else class="row">
      <label class="row"
        >Sized next by
        <Choice
          v-model="expert"
          nothing="any of those who size"
          :options="idea.experts.map((one) => ({ value: one.id, words: one.name }))"
        />
      </label>
      <el-button :disabled="hindrance !== '' || screen.busy.value" type="primary" @click="screen.go()">
        Screen it
      </el-button>
      <el-button v-if="same[0]" type="primary" @click="doing = 'merge'"
        >Merge into I-{{ same[0].id }}</el-button
      >
      <el-button @click="doing = 'decline'">Decline</el-button>
      <el-button @click="onwards">Next one</el-button>
      <span v-if="hindrance" class="quiet">{{ hindrance }}</span>
      <span class="quiet">Keys: s screens, d declines, m merges, n goes on to the next</span>
    </div>
  </section>
</template>

<style scoped>
.desk {
  border-left: 3px solid var(--act);
  padding-left: 14px;
}
</style>
