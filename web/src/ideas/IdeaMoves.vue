<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import AmendIdea from './AmendIdea.vue'
import DeclineIdea from './DeclineIdea.vue'
import MergeIdea from './MergeIdea.vue'
import { OTHER_ROUTES } from '@/api/words'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import FormEnd from '@/shared/FormEnd.vue'
import DayField from '@/shared/DayField.vue'
import Choice from '@/shared/Choice.vue'

/** What can be done about where an idea stands, beside its way: each asks for what it needs to be explained. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
type Act =
  'amend' | 'park' | 'merge' | 'decline' | 'route' | 'reopen' | 'withdraw' | 'stuck' | 'measure' | 'retire'
const open = ref<Act | null>(null)
const why = ref('')
const until = ref('')
const due = ref('')
const owner = ref<number | null>(null)
const route = ref(OTHER_ROUTES[0] ?? '')
const acts = computed(() => {
  const may = props.idea.moves
  const stuck = props.idea.building === 'stuck'
  const all: { act: Act; name: string; shown: boolean }[] = [
    { act: 'measure', name: 'It is carried out', shown: may.measure },
    { act: 'stuck', name: stuck ? 'It goes on' : 'It is stuck', shown: may.stuck },
    { act: 'reopen', name: 'Bring it back', shown: may.reopen },
    { act: 'park', name: 'Park it', shown: may.park },
    { act: 'route', name: 'Another route', shown: may.route },
    { act: 'merge', name: 'Merge it', shown: may.merge },
    {
      act: 'amend',
      name: props.idea.amends_id ? 'It is an idea of its own' : 'It is a change to something in service',
      shown: may.amend,
    },
    // A noted idea is declined at the review beside its answers.
    { act: 'decline', name: 'Decline it', shown: may.decline && !props.idea.may.review },
    { act: 'withdraw', name: 'Withdraw it', shown: may.withdraw },
    { act: 'retire', name: 'Take it out of service', shown: may.retire },
  ]
  return all.filter((one) => one.shown)
})
const LABELS: Record<string, string> = {
  park: 'What does it wait for?',
  reopen: 'Why does it come back?',
  withdraw: 'Why do you withdraw it?',
  stuck: 'What is it stuck at?',
  measure: 'What was done?',
  retire: 'Why does it end?',
  route: 'What is to be done?',
}
const FIELD: Record<string, string> = { measure: 'words', route: 'measure' }
const goesOn = computed(() => open.value === 'stuck' && props.idea.building === 'stuck')
const { zone } = useMe()
const today = dayIn(zone.value)
const tomorrow = dayIn(zone.value, 1)
function begin(act: Act) {
  open.value = open.value === act ? null : act
}
const act = useAction(async () => {
  const params = { path: { number: props.idea.id } }
  const body = { why: why.value }
  if (open.value === 'park')
    await ask(api.POST('/api/v1/ideas/{number}/park', { params, body: { ...body, until: until.value } }))
  else if (open.value === 'reopen') await ask(api.POST('/api/v1/ideas/{number}/reopen', { params, body }))
  else if (open.value === 'withdraw') await ask(api.POST('/api/v1/ideas/{number}/withdraw', { params, body }))
  else if (open.value === 'stuck')
    await ask(api.PUT('/api/v1/ideas/{number}/stuck', { params, body: goesOn.value ? { why: '' } : body }))
  else if (open.value === 'measure')
    await ask(
      api.POST('/api/v1/ideas/{number}/measure-done', {
        params,
        body: { words: why.value, since: until.value || null },
      }),
    )
  else if (open.value === 'retire') await ask(api.POST('/api/v1/ideas/{number}/retire', { params, body }))
  else if (open.value === 'route')
    await ask(
      api.POST('/api/v1/ideas/{number}/route', {
        params,
        body: { route: route.value, measure: why.value, owner: owner.value ?? 0, due: due.value },
      }),
    )
  open.value = null
  why.value = until.value = due.value = ''
  owner.value = null
  unsent.done()
})
const ready = computed(() => {
  if (open.value === 'park') return until.value !== '' && why.value.trim() !== ''
  if (open.value === 'route') return due.value !== '' && owner.value !== null && why.value.trim() !== ''
  return (
    goesOn.value || why.value.trim() !== '' || (open.value === 'withdraw' && props.idea.stage === 'draft')
  )
})
// Why the button waits.
const wait = computed(() => {
  if (ready.value) return ''
  if (open.value === 'park') return 'Choose the day, and say what it waits for.'
  if (open.value === 'route') return 'Say what is to be done, by whom, and until when.'
  return 'Say it in a sentence first.'
})
const unsent = useDraft(
  'Your reason',
  () => `moves-${props.idea.id}`,
  { why, until, due, owner, route },
  { open },
)
</script>

<template>
  <div v-if="acts.length" class="stack tight">
    <p class="row" role="group" aria-label="What else can be done">
      <el-button
        v-for="one in acts"
        :key="one.act"
        :aria-expanded="open === one.act"
        link
        type="primary"
        @click="begin(one.act)"
        >{{ one.name }}
      </el-button>
    </p>
    <MergeIdea v-if="open === 'merge'" :idea="idea" @leave="open = null" />
    <AmendIdea v-else-if="open === 'amend'" :idea="idea" @leave="open = null" />
    <DeclineIdea v-else-if="open === 'decline'" :idea="idea" @done="open = null" @leave="open = null" />
    <form v-else-if="open" class="note stack tight" @submit.prevent="act.go()">
      <DraftNote :draft="unsent" />
      <p v-if="goesOn">It was stuck: {{ idea.stuck_why }}</p>
      <p v-if="open === 'retire'">
        It ends for good. What it costs by the month ends today; what it was promised and delivered stays. A
        routine that still runs for it goes on being tallied.
      </p>
      <div class="row top">
        <Field v-if="open === 'park'" v-slot="{ id }" label="Until" :fault="faultOf(act.error.value, 'until')"
          ><DayField :id="id" v-model="until" :min="tomorrow"
        /></Field>
        <Field
          v-if="open === 'measure'"
          v-slot="{ id }"
          label="Since when it is so"
          help="today, if it stays empty"
          :fault="faultOf(act.error.value, 'since')"
          ><DayField :id="id" v-model="until" :max="today"
        /></Field>
        <template v-if="open === 'route'">
          <Field v-slot="{ id }" label="Route" :fault="faultOf(act.error.value, 'route')"
            ><Choice :id="id" v-model="route" :options="OTHER_ROUTES"
          /></Field>
          <Field v-slot="{ id }" label="By when" :fault="faultOf(act.error.value, 'due')"
            ><DayField :id="id" v-model="due" :min="tomorrow"
          /></Field>
          <Field label="Who sees to it" :fault="faultOf(act.error.value, 'owner')"
            ><PersonField v-model="owner" label="Who sees to it"
          /></Field>
        </template>
      </div>
      <Field
        v-if="!goesOn"
        v-slot="{ id }"
        :label="LABELS[open] ?? 'Why?'"
        help="it is told to those with a part in it"
        :fault="faultOf(act.error.value, FIELD[open] ?? 'why')"
      >
        <el-input :id="id" v-model="why" :rows="2" maxlength="1000" type="textarea" />
      </Field>
      <FormEnd
        :action="open === 'route' ? 'Take this route' : (acts.find((one) => one.act === open)?.name ?? '')"
        leave="Cancel"
        :busy="act.busy.value"
        :error="act.error.value"
        :fields="['why', 'words', 'measure', 'until', 'route', 'due', 'owner', 'since']"
        :wait="wait"
        @leave="open = null"
      />
    </form>
  </div>
</template>

<style scoped>
.row {
  gap: 16px;
}
</style>
