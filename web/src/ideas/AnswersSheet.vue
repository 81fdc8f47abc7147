<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import IdeaFiles from './IdeaFiles.vue'
import QuestionField from '@/shared/QuestionField.vue'
import { useDraft } from '@/shared/unsaved'
import { filled, said, type Question } from '@/shared/questions'
import { several } from '@/shared/format'

/** The answers: read by all, changed by the proposer, accepted or sent back by the reviewer. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const editing = ref<string | null>(null)
const asking = ref<string | null>(null)
const value = ref<unknown>(null)
const note = ref('')

const save = useAction(async (question: Question) => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/answers/{question}', {
      params: { path: { number: props.idea.id, question: question.key } },
      body: { value: filled(question, value.value) ? value.value : null, remark: question.remark },
    }),
  )
  editing.value = null
  answer.done()
})
const judge = useAction(async (question: string, accepted: boolean) => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/answers/{question}/judgement', {
      params: { path: { number: props.idea.id, question } },
      body: { accepted, note: accepted ? '' : note.value },
    }),
  )
  asking.value = null
  note.value = ''
  asked.done()
})
const LATER = 'Not asked in its interview'
const more = ref(false)
// What its interview left out stands apart, for whoever wants to ask for it.
const shown = computed(() => props.idea.answers.filter((one) => one.step !== LATER || one.value !== null))
const rest = computed(() => props.idea.answers.filter((one) => one.step === LATER && one.value === null))
const rows = computed(() => (more.value ? [...shown.value, ...rest.value] : shown.value))
function edit(question: Question) {
  editing.value = question.key
  value.value = question.value ?? null
  answer.done()
  save.error.value = null
}
function sendBack(question: Question) {
  asking.value = question.key
  note.value = ''
  judge.error.value = null
}
const answer = useDraft('Your answer', () => `answer-${props.idea.id}`, { value }, { open: editing })
const asked = useDraft('Your question', () => `question-${props.idea.id}`, { note }, { open: asking })
</script>

<template>
  <table class="ledger answers">
    <thead>
      <tr>
        <th>Question and answer</th>
        <th style="width: 190px">Standing</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="question in rows" :key="question.key" :class="{ open: question.state === 'sent back' }">
        <td>
          <span class="quiet">{{ question.text }}</span>
          <IdeaFiles
            v-if="question.kind === 'files'"
            :idea="idea.id"
            :files="idea.files"
            :change="idea.may.answer"
          />
          <template v-else-if="editing === question.key">
            <QuestionField
              v-model="value"
              :question="question"
              :fault="faultOf(save.error.value, question.key)"
            />
            <Problem :error="save.error.value" :fields="[question.key]" />
            <p class="row">
              <el-button :disabled="save.busy.value" type="primary" @click="save.go(question)">
                Keep the answer
              </el-button>
              <el-button @click="editing = null">Cancel</el-button>
            </p>
          </template>
          <div v-else class="said" :class="{ care: question.value === null }">{{ said(question) }}</div>
          <div v-if="question.remark" class="quiet">“{{ question.remark }}”</div>
          <p v-if="question.note" class="note care">{{ question.note }}</p>
          <form
            v-if="asking === question.key"
            class="stack tight"
            @submit.prevent="judge.go(question.key, false)"
          >
            <el-input
              v-model="note"
              :rows="2"
              aria-label="What would you like to know?"
              placeholder="What would you like to know?"
              maxlength="1000"
              type="textarea"
            />
            <Problem :error="judge.error.value" />
            <p class="row">
              <el-button :disabled="judge.busy.value" type="primary" native-type="submit"
                >Send back to {{ idea.proposer }}</el-button
              >
              <el-button @click="asking = null">Cancel</el-button>
            </p>
          </form>
        </td>
        <td>
          <template v-if="question.kind !== 'files'">
            <span :class="{ care: question.state === 'sent back' }">{{
              question.value === null && question.state !== 'sent back' ? 'not known' : question.state
            }}</span>
            <div v-if="question.at" class="quiet"><When :at="question.at" day />, {{ question.by }}</div>
            <div v-if="idea.may.review" class="row tools">
              <el-button
                v-if="question.state !== 'accepted' && question.value !== null"
                link
                type="primary"
                @click="judge.go(question.key, true)"
              >
                Accept
              </el-button>
              <el-button
                v-if="question.state !== 'sent back'"
                link
                type="primary"
                @click="sendBack(question)"
              >
                Send back
              </el-button>
            </div>
            <el-button
              v-if="idea.may.answer && editing !== question.key"
              link
              type="primary"
              @click="edit(question)"
              >{{ question.state === 'sent back' ? 'Answer it' : 'Change' }}
            </el-button>
          </template>
        </td>
      </tr>
      <tr v-if="rest.length && (idea.may.review || idea.may.answer)">
        <td colspan="2">
          <el-button :aria-expanded="more" link type="primary" @click="more = !more"
            >{{ more ? 'Hide' : 'Show' }} {{ several(rest.length, 'question', 'questions') }} that its
            interview left out
          </el-button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.said {
  font-weight: 600;
  white-space: pre-line;
}
.tools {
  gap: 14px;
}
.plain {
  padding-left: 0;
}
</style>
