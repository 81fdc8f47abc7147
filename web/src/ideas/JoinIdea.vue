<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import { RHYTHMS } from '@/api/words'
import Choice from '@/shared/Choice.vue'

/** Joins an idea instead of repeating it, with a volume of one's own if one does the work too. */
const props = defineProps<{ idea: number; draft?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const doesIt = ref(true)
const amount = ref('')
const rhythm = ref('week')
const note = ref('')
const join = useAction(async () => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/voice', {
      params: { path: { number: props.idea } },
      body: {
        volume: doesIt.value ? { amount: amount.value, rhythm: rhythm.value } : null,
        note: note.value,
        draft: props.draft ?? null,
      },
    }),
  )
  unsent.done()
  emit('done')
})
const unsent = useDraft('What you join with', () => `join-${props.idea}`, { doesIt, amount, rhythm, note })
</script>

<template>
  <form class="note stack tight" @submit.prevent.stop="join.go()">
    <DraftNote :draft="unsent" />
    <p class="row" role="radiogroup" aria-label="How you join">
      <el-radio v-model="doesIt" :value="true">I do this work too</el-radio>
      <el-radio v-model="doesIt" :value="false">I support it</el-radio>
    </p>
    <div class="row top">
      <template v-if="doesIt">
        <Field
          v-slot="{ id }"
          label="How many come to you"
          help="they count for the hours in reach"
          :fault="faultOf(join.error.value, 'volume')"
          ><NumberField :id="id" v-model="amount" :chars="8"
        /></Field>
        <Field v-slot="{ id }" label="each"><Choice :id="id" v-model="rhythm" :options="RHYTHMS" /></Field>
      </template>
      <Field v-slot="{ id }" label="What should be known of it" :fault="faultOf(join.error.value, 'note')"
        ><el-input :id="id" v-model="note" style="--chars: 36" maxlength="1000"
      /></Field>
    </div>
    <FormEnd
      action="Join it"
      :busy="join.busy.value"
      :error="join.error.value"
      :fields="['volume', 'note']"
      :wait="doesIt && !amount.trim() ? 'Say how often you do it first.' : ''"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>
