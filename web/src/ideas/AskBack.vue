<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import DraftNote from '@/shared/DraftNote.vue'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'

/** Sends one answer back to the proposer with a question, in a moment; the idea waits for them until then. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const question = ref('')
const note = ref('')
const tried = ref(false)
const options = computed(() =>
  props.idea.answers
    .filter((one) => one.kind !== 'files' && one.state !== 'sent back')
    .map((one) => ({ value: one.key, words: one.text })),
)
const soon = useSoon()
const unsent = useDraft('Your question', () => `ask-back-${props.idea.id}`, { question, note })
function send() {
  tried.value = true
  if (!question.value || !note.value.trim()) return
  const params = { path: { number: props.idea.id, question: question.value } }
  const body = { accepted: false, note: note.value }
  soon(
    `I-${props.idea.id} ${props.idea.title} goes back to ${props.idea.proposer}`,
    `/ideas/${props.idea.id}`,
    (init) => ask(api.PUT('/api/v1/ideas/{number}/answers/{question}/judgement', { params, body, ...init })),
    unsent.sent(),
  )
  emit('done')
}
</script>

<template>
  <form class="stack tight" @submit.prevent="send">
    <DraftNote :draft="unsent" />
    <Field v-slot="{ id }" label="About which answer" :fault="tried && !question ? 'choose one' : undefined">
      <Choice :id="id" v-model="question" :options="options" placeholder="choose an answer" />
    </Field>
    <Field
      v-slot="{ id }"
      :label="`What would you like to know of ${idea.proposer}?`"
      :fault="tried && !note.trim() ? 'say what you would like to know' : undefined"
    >
      <el-input :id="id" v-model="note" :rows="2" maxlength="1000" type="textarea" />
    </Field>
    <FormEnd action="Ask back" :busy="false" :error="null" leave="Cancel" @leave="emit('leave')" />
  </form>
</template>
