<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import PersonField from '@/shared/PersonField.vue'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'

/** Whoever was named as owner of the work confirms the answers, or says that it is not theirs and whom to ask. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const open = ref(false)
const person = ref<number | null>(null)
const why = ref('')
const path = () => ({ params: { path: { number: props.idea.id } } })
const confirm = useAction(() => ask(api.POST('/api/v1/ideas/{number}/confirm', path())))
const send = useAction(async () => {
  const body = { person: person.value, why: why.value }
  await ask(api.POST('/api/v1/ideas/{number}/not-mine', { ...path(), body }))
  unsent.done()
  open.value = false
})
const unsent = useDraft('Who owns the work', () => `not-mine-${props.idea.id}`, { person, why }, { open })
</script>

<template>
  <section class="note stack tight">
    <div class="row">
      <span>You are named as owner of this work: are the answers right?</span>
      <el-button :disabled="confirm.busy.value" type="primary" @click="confirm.go()"
        >Confirm as work owner</el-button
      >
      <el-button v-if="!open" @click="open = true">Not mine</el-button>
    </div>
    <form v-if="open" class="stack tight" @submit.prevent="send.go()">
      <DraftNote :draft="unsent" />
      <Field
        v-slot="{ id }"
        label="Whom to ask instead"
        help="Leave it open if you do not know; the proposer is told"
        :fault="faultOf(send.error.value, 'person')"
      >
        <PersonField :id="id" v-model="person" label="Whom to ask instead" />
      </Field>
      <Field v-slot="{ id }" label="Why it is not yours" :fault="faultOf(send.error.value, 'why')">
        <el-input :id="id" v-model="why" maxlength="500" />
      </Field>
      <Problem :error="send.error.value" :fields="['person', 'why']" />
      <p class="row">
        <el-button :disabled="send.busy.value" type="primary" native-type="submit">It is not mine</el-button>
        <el-button @click="open = false">Cancel</el-button>
      </p>
    </form>
    <Problem :error="confirm.error.value" />
  </section>
</template>
