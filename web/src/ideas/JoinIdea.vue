<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** Joins an idea instead of repeating it, with a volume of one's own if one does the work too. */
const props = defineProps<{ idea: number; draft?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const RHYTHMS = ['day', 'working day', 'week', 'month', 'quarter', 'year']
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
  emit('done')
})
</script>

<template>
  <form class="note stack tight" @submit.prevent.stop="join.go()">
    <p class="row" role="radiogroup" aria-label="How you join">
      <label><input v-model="doesIt" type="radio" :value="true" /> I do this work too</label>
      <label><input v-model="doesIt" type="radio" :value="false" /> I support it</label>
    </p>
    <div class="row top">
      <template v-if="doesIt">
        <Field
          v-slot="{ id }"
          label="How many come to you"
          help="they count for the hours in reach"
          :fault="faultOf(join.error.value, 'volume')"
          ><input :id="id" v-model="amount" type="text" inputmode="decimal" size="8"
        /></Field>
        <Field v-slot="{ id }" label="each"
          ><select :id="id" v-model="rhythm">
            <option v-for="one in RHYTHMS" :key="one">{{ one }}</option>
          </select></Field
        >
      </template>
      <Field v-slot="{ id }" label="What should be known of it" :fault="faultOf(join.error.value, 'note')"
        ><input :id="id" v-model="note" type="text" size="36" maxlength="1000"
      /></Field>
    </div>
    <Problem :error="join.error.value" :fields="['volume', 'note']" />
    <p class="row">
      <button class="filled" :disabled="join.busy.value || (doesIt && !amount.trim())">Join it</button>
      <button type="button" @click="emit('leave')">Not now</button>
    </p>
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
