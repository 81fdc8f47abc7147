<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import FirstLook from './FirstLook.vue'
import IdeaParts from './IdeaParts.vue'
import IdeaStanding from './IdeaStanding.vue'
import { later } from '@/shared/later'
import Sheets from '@/shared/Sheets.vue'

// Each sheet is read when it is opened.
const CaseSheet = later(() => import('@/cases/CaseSheet.vue'))
const TallySheet = later(() => import('@/tally/TallySheet.vue'))
const PlanSheet = later(() => import('@/cases/PlanSheet.vue'))
const SizingSheet = later(() => import('@/cases/SizingSheet.vue'))
const TalkSheet = later(() => import('./TalkSheet.vue'))
const ReviewDesk = later(() => import('./ReviewDesk.vue'))
const OwnerConfirms = later(() => import('./OwnerConfirms.vue'))
const AnswersSheet = later(() => import('./AnswersSheet.vue'))
const BackIdea = later(() => import('@/cases/BackIdea.vue'))

const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id))
const query = useQuery({
  queryKey: ['ideas', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}', { params: { path: { number: id.value } } })),
})
const idea = computed(() => query.data.value)
const sized = computed(
  () => !['draft', 'noted', 'declined', 'withdrawn', 'merged'].includes(idea.value?.stage ?? 'draft'),
)
const talked = computed(
  () =>
    (idea.value?.comments.filter((one) => !one.taken_back_at).length ?? 0) + (idea.value?.voices.length ?? 0),
)
const sheets = computed(() =>
  [
    { key: 'answers', words: 'Answers', shown: true },
    {
      key: 'talk',
      words: talked.value ? `Talk ${talked.value}` : 'Talk',
      shown: idea.value?.stage !== 'draft',
    },
    { key: 'sizing', words: 'Sizing', shown: sized.value && idea.value?.may.see_case },
    { key: 'case', words: 'Case', shown: sized.value && idea.value?.may.see_case },
    { key: 'plan', words: 'Plan', shown: sized.value && idea.value?.may.see_case },
    {
      key: 'tally',
      words: 'Tally',
      shown:
        (idea.value?.may.see_tally || idea.value?.may.measure || idea.value?.may.count) &&
        ['building', 'in service', 'retired'].includes(idea.value.stage),
    },
  ]
    .filter((one) => one.shown)
    .map(({ key, words }) => ({ key, words, query: { sheet: key } })),
)
const sheet = computed(() => {
  const wanted = typeof route.query.sheet === 'string' ? route.query.sheet : 'answers'
  return sheets.value.some((one) => one.key === wanted) ? wanted : 'answers'
})
// Who reviews it decides beside its answers, above all else.
const reviewing = computed(() => !!idea.value?.may.review && sheet.value === 'answers')
const path = computed(() => ({ params: { path: { number: id.value } } }))
const takeUp = useAction(() => ask(api.POST('/api/v1/ideas/{number}/take-up', path.value)))

const follow = useAction((on: boolean) =>
  ask(api.PUT('/api/v1/ideas/{number}/follow', { ...path.value, body: { on } })),
)

// How it came in, where that is not the interview.
const CAME: Record<string, string> = {
  'the team': 'entered by the team',
  spreadsheet: 'from a spreadsheet',
  'a program': 'sent by a program',
  'runs already': 'registered as running already',
  'a study': 'from a study',
}
function open(name: string, field?: string) {
  void router.push({ query: { sheet: name, ...(field ? { field } : {}) } })
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="idea" class="stack">
      <p v-if="route.query.handed" class="note" role="status">
        Thank you. It is handed in as <b>I-{{ idea.id }}</b
        >. {{ idea.next.words }}<template v-if="idea.next.due"> by <When :at="idea.next.due" /></template>;
        you are told here and by mail.
      </p>
      <div class="spread">
        <div>
          <p class="quiet">
            I-{{ idea.id }} · {{ idea.division ?? 'no division yet' }}
            <template v-if="idea.source !== 'interview'"> · {{ CAME[idea.source] ?? idea.source }}</template>
            <template v-if="idea.amends_id">
              · a change to
              <router-link :to="`/ideas/${idea.amends_id}`"
                >I-{{ idea.amends_id }} {{ idea.amends_title }}</router-link
              >
            </template>
          </p>
          <h1>{{ idea.title }}</h1>
          <p class="lead">{{ idea.what }}</p>
        </div>
        <div class="row">
          <el-button v-if="idea.may.build" type="primary" @click="takeUp.go()">Take it up</el-button>
          <router-link
            v-if="idea.stage === 'building' && idea.route === 'robot' && idea.may.see_case"
            :to="`/workshop/routines/new?idea=${idea.id}`"
            class="button"
          >
            Set up a routine
          </router-link>
          <router-link v-if="idea.stage === 'in service'" :to="`/ideas/new?amends=${idea.id}`" class="button"
            >Ask for a change</router-link
          >
          <el-button
            :aria-pressed="idea.follows"
            :disabled="follow.busy.value"
            @click="follow.go(!idea.follows)"
            >{{ idea.follows ? 'Follow no more' : 'Follow' }}
          </el-button>
          <BackIdea v-if="idea.may.back" :idea="idea.id" :title="idea.title" />
        </div>
      </div>
      <Problem :error="takeUp.error.value ?? follow.error.value" />
      <OwnerConfirms v-if="idea.may.confirm" :idea="idea" />
      <IdeaStanding v-if="!reviewing" :idea="idea" />
      <Sheets label="Sheets of the idea" :sheets="sheets" :now="sheet" />
      <template v-if="sheet === 'answers'">
        <FirstLook :idea="idea" />
        <div v-if="reviewing" class="reviewing">
          <AnswersSheet :idea="idea" />
          <ReviewDesk :idea="idea" />
        </div>
        <AnswersSheet v-else :idea="idea" />
      </template>
      <SizingSheet v-else-if="sheet === 'sizing'" :idea="idea" />
      <CaseSheet v-else-if="sheet === 'case'" :idea="idea" @supply="open" />
      <PlanSheet v-else-if="sheet === 'plan'" :idea="idea" @supply="open" />
      <TalkSheet v-else-if="sheet === 'talk'" :idea="idea" />
      <TallySheet v-else :idea="idea" />
      <IdeaStanding v-if="reviewing" :idea="idea" />
      <MarginNotes holds>
        <section class="stack tight">
          <h2>Who has a part</h2>
          <p>
            Proposed by {{ idea.proposer }}<br />
            Work owner: {{ idea.owner ?? 'nobody named' }}
            <span class="quiet">{{
              idea.owner ? (idea.owner_confirmed_at ? 'confirmed the answers' : 'has not confirmed yet') : ''
            }}</span><br v-if="idea.builder" />
            <template v-if="idea.builder">Built by {{ idea.builder }}</template>
            <template v-if="idea.knows"><br />Knows it well: {{ idea.knows }}</template>
          </p>
        </section>
        <IdeaParts :idea="idea" />
      </MarginNotes>
      <History subject="idea" :number="idea.id" about="ideas" />
    </div>
  </Loaded>
</template>

<style scoped>
.reviewing {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(280px, 400px);
  gap: 24px;
}
@media (max-width: 900px) {
  .reviewing {
    grid-template-columns: minmax(0, 1fr);
  }
  .reviewing > :last-child {
    order: -1;
    position: static;
  }
}
</style>
