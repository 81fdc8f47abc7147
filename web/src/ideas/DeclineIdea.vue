<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { DECLINE_REASONS } from '@/api/words'
import { useSoon } from '@/shared/undo'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import Choice from '@/shared/Choice.vue'

/** Declines an idea with a reason chosen and explained. */
const props = defineProps<{
  idea: Schemas['IdeaWhole']
  /** In a moment, so that it can be taken back: whoever reviews many by keys presses one too many. */
  soon?: boolean
}>()
const emit = defineEmits<{ done: []; leave: [] }>()
const reason = ref('')
const words = ref('')
const later = useSoon()
const decline = useAction(async () => {
  const params = { path: { number: props.idea.id } }
  const body = { reason: reason.value, words: words.value }
  const send = (init: object) => ask(api.POST('/api/v1/ideas/{number}/decline', { params, body, ...init }))
  // What is not whole is refused at once, at its field.
  if (props.soon && reason.value && words.value.trim())
    later(
      `I-${props.idea.id} ${props.idea.title} is declined`,
      `/ideas/${props.idea.id}`,
      send,
      unsent.sent(),
    )
  else {
    await send({})
    unsent.done()
  }
  emit('done')
})
const unsent = useDraft('Why it is declined', () => `decline-${props.idea.id}`, { reason, words })
</script>

<template>
  <form class="stack tight" @submit.prevent="decline.go()">
    <DraftNote :draft="unsent" />
    <Field v-slot="{ id }" label="Reason" :fault="faultOf(decline.error.value, 'reason')">
      <Choice :id="id" v-model="reason" :options="DECLINE_REASONS" placeholder="choose a reason" />
    </Field>
    <Field
      v-slot="{ id }"
      label="In your words, to the proposer"
      :fault="faultOf(decline.error.value, 'words')"
    >
      <el-input :id="id" v-model="words" :rows="2" maxlength="1000" type="textarea" />
    </Field>
    <FormEnd
      :action="`Decline and tell ${idea.proposer}`"
      :busy="decline.busy.value"
      :error="decline.error.value"
      :fields="['reason', 'words']"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>
