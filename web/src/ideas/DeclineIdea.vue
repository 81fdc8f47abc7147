<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import { DECLINE_REASONS } from '@/api/words'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Declines an idea with a reason chosen and explained. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const reason = ref('')
const words = ref('')
const decline = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/decline', {
      params: { path: { number: props.idea.id } },
      body: { reason: reason.value, words: words.value },
    }),
  )
  unsent.done()
  emit('done')
})
const unsent = useDraft('Why it is declined', () => `decline-${props.idea.id}`, { reason, words })
</script>

<template>
  <form class="stack tight" @submit.prevent="decline.go()">
    <DraftNote :draft="unsent" />
    <Field v-slot="{ id }" label="Reason" :fault="faultOf(decline.error.value, 'reason')">
      <el-select :id="id" v-model="reason" :empty-values="[undefined]"
        ><el-option value="" label="Choose a reason" />
        <el-option v-for="one in DECLINE_REASONS" :key="one" :label="one" :value="one"
      /></el-select>
    </Field>
    <Field
      v-slot="{ id }"
      label="In your words, to the proposer"
      :fault="faultOf(decline.error.value, 'words')"
    >
      <el-input :id="id" v-model="words" :rows="2" maxlength="1000" type="textarea" />
    </Field>
    <Problem :error="decline.error.value" :fields="['reason', 'words']" />
    <p class="row">
      <el-button :disabled="decline.busy.value" type="primary" native-type="submit"
        >Decline and tell {{ idea.proposer }}</el-button
      >
      <el-button @click="emit('leave')">Cancel</el-button>
    </p>
  </form>
</template>
