<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import { DECLINE_REASONS } from '@/api/words'
import DayField from '@/shared/DayField.vue'
import { useDraft } from '@/shared/unsaved'
import { several } from '@/shared/format'
import Choice from '@/shared/Choice.vue'
import AreaField from '@/shared/AreaField.vue'

/** One act on the ideas that are ticked: shown first, then each in a step of its own. */
const props = defineProps<{ ids: number[]; reviews: boolean; places: boolean }>()
const emit = defineEmits<{ clear: []; done: [left: number[]] }>()
const act = ref('')
const words = ref('')
const reason = ref('')
const until = ref('')
const area = ref<number | null>(null)
const outcome = ref<Schemas['Acted'] | null>(null)
const acts = computed(() => [
  { value: 'follow', name: 'Follow' },
  { value: 'follow no more', name: 'Follow no more' },
  ...(props.reviews
    ? [
        { value: 'park', name: 'Park' },
        { value: 'decline', name: 'Decline' },
        { value: 'reopen', name: 'Bring back' },
      ]
    : []),
  ...(props.places ? [{ value: 'place', name: 'Place in an area' }] : []),
])
const { zone } = useMe()
const tomorrow = dayIn(zone.value, 1)
// Why the button waits.
const WANTED: Record<string, string> = {
  park: 'Choose the day, and say what they wait for.',
  decline: 'Choose the reason, and explain it in a sentence.',
  reopen: 'Say why they come back.',
  place: 'Choose the area.',
}
const ready = computed(() => {
  if (act.value === 'park') return until.value !== '' && words.value.trim() !== ''
  if (act.value === 'decline') return reason.value !== '' && words.value.trim() !== ''
  if (act.value === 'reopen') return words.value.trim() !== ''
  if (act.value === 'place') return area.value !== null
  return act.value !== ''
})
const go = useAction(async () => {
  outcome.value = await ask(
    api.POST('/api/v1/ideas/many', {
      body: {
        ids: props.ids,
        act: act.value,
        words: words.value,
        reason: reason.value,
        until: until.value || null,
        area: area.value,
      },
    }),
  )
  unsent.done()
  act.value = ''
  emit(
    'done',
    outcome.value.refused.map((one) => one.id),
  )
})
const number = computed(() => `${several(props.ids.length, 'idea', 'ideas')}`)
const verb = computed(() => acts.value.find((one) => one.value === act.value)?.name ?? '')
const unsent = useDraft(
  'What you do with many ideas',
  () => 'many-ideas',
  { words, reason, until, area },
  { open: act },
)
</script>

<template>
  <div class="bar stack tight" role="region" aria-label="With the ideas chosen">
    <div class="row">
      <b v-if="ids.length">{{ number }} chosen</b>
      <el-button
        v-for="one in ids.length ? acts : []"
        :key="one.value"
        class="chip"
        :class="{ on: act === one.value }"
        @click="((act = one.value), (outcome = null))"
      >
        {{ one.name }}
      </el-button>
      <el-button link type="primary" @click="emit('clear')">{{
        ids.length ? 'Choose none' : 'Close'
      }}</el-button>
    </div>
    <form v-if="act" class="stack tight" @submit.prevent="go.go()">
      <div class="row top">
        <Field v-if="act === 'park'" v-slot="{ id }" label="Until" :fault="faultOf(go.error.value, 'until')">
          <DayField :id="id" v-model="until" :min="tomorrow" />
        </Field>
        <Field
          v-if="act === 'decline'"
          v-slot="{ id }"
          label="Reason"
          :fault="faultOf(go.error.value, 'reason')"
        >
          <Choice :id="id" v-model="reason" :options="DECLINE_REASONS" placeholder="choose a reason" />
        </Field>
        <Field v-if="act === 'place'" v-slot="{ id }" label="Area" :fault="faultOf(go.error.value, 'area')">
          <AreaField :id="id" v-model="area" />
        </Field>
        <Field
          v-if="['park', 'decline', 'reopen'].includes(act)"
          v-slot="{ id }"
          label="In words, to all who have a part"
          :fault="faultOf(go.error.value, 'words', 'why')"
        >
          <el-input :id="id" v-model="words" style="--chars: 52" maxlength="1000" />
        </Field>
      </div>
      <p class="quiet">
        {{ verb }}
        {{
          ids
            .slice(0, 6)
            .map((one) => `I-${one}`)
            .join(', ')
        }}{{ ids.length > 6 ? ` and ${ids.length - 6} more` : '' }}. Each is done in a step of its own; what
        cannot be done is named.
      </p>
      <Problem :error="go.error.value" :fields="['until', 'reason', 'area', 'words', 'why']" />
      <p class="row">
        <el-button :disabled="!ready || go.busy.value" type="primary" native-type="submit"
          >{{ verb }} {{ number }}</el-button
        >
        <el-button @click="act = ''">Cancel</el-button>
        <span v-if="!ready" class="quiet">{{ WANTED[act] }}</span>
      </p>
    </form>
    <div v-if="outcome" class="note" role="status">
      <p>Done with {{ outcome.done.length }}.</p>
      <p v-for="one in outcome.refused" :key="one.id" class="bad">{{ one.ref }}: {{ one.why }}</p>
    </div>
  </div>
</template>

<style scoped>
.bar {
  border-left: 3px solid var(--act);
  padding: 6px 0 6px 12px;
}
</style>
