<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import { useDraft } from '@/shared/unsaved'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { several } from '@/shared/format'
import Choice from '@/shared/Choice.vue'

/** A second person's agreement to a sizing, or what they want looked at again, point by point. */
const props = defineProps<{ idea: Schemas['IdeaWhole']; sizing: Schemas['Sizing'] }>()
const { me } = useMe()
const path = computed(() => ({ params: { path: { number: props.idea.id } } }))
const note = ref('')
const points = ref<{ field: string; words: string }[]>([])
const sendingBack = ref(false)
const lacking = computed(() => props.sizing.results.missing.length > 0)
const open = computed(() => props.sizing.points.filter((one) => !one.met_at))
const met = computed(() => props.sizing.points.filter((one) => one.met_at))
const offer = useAction(() => ask(api.POST('/api/v1/ideas/{number}/sizing/offer', path.value)))
const settle = useAction(async (agreed: boolean) => {
  const body = { agreed, note: note.value, points: agreed ? [] : points.value }
  await ask(api.POST('/api/v1/ideas/{number}/sizing/settle', { ...path.value, body }))
  sendingBack.value = false
  points.value = []
  note.value = ''
  unsent.done()
})
const answers = ref<Record<number, string>>({})
const answer = useAction(async (point: number) => {
  await ask(
    api.POST('/api/v1/ideas/{number}/sizing/points/{point}', {
      params: { path: { number: props.idea.id, point } },
      body: { words: answers.value[point] ?? '' },
    }),
  )
  delete answers.value[point]
  replies.done()
})
const unsent = useDraft(
  'What you send back',
  () => `sizing-back-${props.idea.id}`,
  { note, points },
  { open: sendingBack },
)
const replies = useDraft('Your answers', () => `sizing-answers-${props.idea.id}`, { answers })
</script>

<template>
  <div class="agreement note">
    <p>
      <template v-if="sizing.state === 'agreed'">
        Sized by {{ sizing.sized_by }}, agreed by {{ sizing.agreed_by }} on
        <When :at="sizing.agreed_at" day />.
      </template>
      <template v-else-if="sizing.state === 'offered'">
        {{ sizing.sized_by }} asks for agreement<template v-if="me?.name === sizing.sized_by"
          >; somebody else gives it</template
        >.
      </template>
      <template v-else-if="sizing.state === 'sent back'">Sent back: {{ sizing.note }}</template>
      <template v-else>Open: fill in the facts, then ask somebody else to agree.</template>
    </p>
    <table v-if="sizing.points.length" class="ledger">
      <tbody>
        <tr v-for="one in open" :key="one.id">
          <td>
            <router-link :to="{ query: { sheet: 'sizing', field: one.field } }">{{ one.label }}</router-link>
            <div class="quiet">{{ one.person }}, <When :at="one.made_at" day /></div>
          </td>
          <td>{{ one.words }}</td>
          <td>
            <form v-if="idea.may.size" class="row" @submit.prevent="answer.go(one.id)">
              <el-input
                v-model="answers[one.id]"
                style="--chars: 24"
                :aria-label="`Why ${one.label} stays as it is`"
                placeholder="Change the fact, or say why it stays"
              />
              <el-button :disabled="answer.busy.value" native-type="submit">It stays</el-button>
            </form>
            <span v-else class="quiet">open</span>
          </td>
        </tr>
        <tr v-for="one in met" :key="one.id" class="met">
          <td>{{ one.label }}</td>
          <td>{{ one.words }}</td>
          <td>
            {{ one.answer }} <span class="quiet">{{ one.met_by }}, <When :at="one.met_at" day /></span>
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="answer.error.value" />
    <div v-if="idea.may.agree" class="row">
      <el-button :disabled="settle.busy.value" type="primary" @click="settle.go(true)">
        Agree to the sizing
      </el-button>
      <el-button v-if="!sendingBack" @click="sendingBack = true">Send back</el-button>
    </div>
    <form v-if="idea.may.agree && sendingBack" class="stack tight" @submit.prevent="settle.go(false)">
      <div v-for="(point, n) in points" :key="n" class="row">
        <Choice
          v-model="point.field"
          :options="sizing.fields.map((one) => ({ value: one.field, words: one.label }))"
          :label="`Fact of point ${n + 1}`"
        />
        <el-input
          v-model="point.words"
          style="--chars: 40"
          maxlength="500"
          :aria-label="`What about point ${n + 1}`"
          placeholder="What about it?"
          :aria-invalid="Boolean(faultOf(settle.error.value, `points[${n}].words`))"
        />
        <el-button :aria-label="`Take off point ${n + 1}`" link type="primary" @click="points.splice(n, 1)">
          Take off
        </el-button>
        <span class="bad">{{ faultOf(settle.error.value, `points[${n}].words`) }}</span>
      </div>
      <p>
        <el-button @click="points.push({ field: 'volume', words: '' })"
          >{{ points.length ? 'Another point' : 'Mark a fact' }}
        </el-button>
      </p>
      <div class="row">
        <el-input
          v-model="note"
          style="--chars: 44"
          aria-label="What should be looked at again?"
          placeholder="What should be looked at again?"
        />
        <el-button :disabled="settle.busy.value" native-type="submit">Send it back</el-button>
      </div>
    </form>
    <div v-if="idea.may.size && idea.stage === 'screened' && sizing.state !== 'offered'" class="row">
      <el-button :disabled="lacking || offer.busy.value" type="primary" @click="offer.go()">
        Ask for agreement
      </el-button>
      <span v-if="lacking" class="quiet">The missing facts come first.</span>
      <span v-else-if="open.length" class="quiet">
        {{ several(open.length, 'point is', 'points are') }} not answered yet.
      </span>
    </div>
    <Problem :error="settle.error.value ?? offer.error.value" />
  </div>
</template>

<style scoped>
.agreement {
  display: grid;
  gap: 8px;
}
.met {
  color: var(--ink-2);
}
</style>
