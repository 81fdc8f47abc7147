<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** The review: close matches settled, then screened or declined. */
const props = defineProps<{ idea: Schemas['Idea'] }>()
const router = useRouter()
const declining = ref(false)
const reason = ref('')
const words = ref('')
const expert = ref<number | null>(null)
const reasons = [
  'too little volume',
  'about to change or end',
  'needs too much judgement',
  'already done elsewhere',
  'better mended another way',
]
const unsettled = computed(() => props.idea.matches.filter((match) => !match.verdict))
const same = computed(() => props.idea.matches.filter((match) => match.verdict === 'same'))
const back = computed(() => props.idea.answers.filter((answer) => answer.state === 'sent back'))
const hindrance = computed(() => {
  if (unsettled.value.length) return 'Settle the close matches first.'
  if (back.value.length) return `${back.value.length} sent back, not answered yet.`
  if (same.value.length) return `I-${same.value[0]?.id} is the same work; decline this one.`
  return ''
})
const path = computed(() => ({ number: props.idea.id }))
const settle = useAction((other: number, verdict: 'same' | 'other') =>
  ask(
    api.PUT('/api/v1/ideas/{number}/matches/{other}', {
      params: { path: { ...path.value, other } },
      body: { verdict },
    }),
  ),
)
const screen = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/screen', {
      params: { path: path.value },
      body: { expert_id: expert.value },
    }),
  )
  await router.push('/')
})
const decline = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/decline', {
      params: { path: path.value },
      body: { reason: reason.value, words: words.value },
    }),
  )
  await router.push('/')
})
</script>

<template>
  <section class="desk stack tight">
    <h2>Review</h2>
    <p v-if="!idea.matches.length" class="quiet">No other idea is like this one.</p>
    <table v-else class="ledger">
      <thead>
        <tr>
          <th>Closest other ideas</th>
          <th style="width: 200px">Is it the same work?</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="match in idea.matches" :key="match.id">
          <td>
            <router-link class="whole" :to="`/ideas/${match.id}`"
              >I-{{ match.id }} {{ match.title }}</router-link
            >
            <span class="quiet"> {{ match.stage }}</span>
            <div class="quiet">{{ match.what }}</div>
            <div class="quiet">Both say: {{ match.words.join(', ') }}</div>
          </td>
          <td>
            <div class="row">
              <button
                class="chip"
                :class="{ on: match.verdict === 'same' }"
                @click="settle.go(match.id, 'same')"
              >
                Same
              </button>
              <button
                class="chip"
                :class="{ on: match.verdict === 'other' }"
                @click="settle.go(match.id, 'other')"
              >
                Other
              </button>
            </div>
            <span v-if="match.by" class="quiet">{{ match.by }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="settle.error.value ?? screen.error.value" />
    <form v-if="declining" class="stack tight" @submit.prevent="decline.go()">
      <Field v-slot="{ id }" label="Reason" :fault="faultOf(decline.error.value, 'reason')">
        <select :id="id" v-model="reason">
          <option value="">Choose a reason</option>
          <option v-for="one in reasons" :key="one">{{ one }}</option>
        </select>
      </Field>
      <Field
        v-slot="{ id }"
        label="In your words, to the proposer"
        :fault="faultOf(decline.error.value, 'words')"
      >
        <textarea :id="id" v-model="words" rows="2" maxlength="1000" />
      </Field>
      <Problem :error="decline.error.value" :fields="['reason', 'words']" />
      <p class="row">
        <button class="filled" :disabled="decline.busy.value">Decline and tell {{ idea.proposer }}</button>
        <button type="button" @click="declining = false">Not now</button>
      </p>
    </form>
    <div v-else class="row">
      <label class="row"
        >Sized next by
        <select v-model="expert">
          <option :value="null">any of those who size</option>
          <option v-for="one in idea.experts" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
      </label>
      <button class="filled" :disabled="hindrance !== '' || screen.busy.value" @click="screen.go()">
        Screen it
      </button>
      <button @click="declining = true">Decline</button>
      <span v-if="hindrance" class="quiet">{{ hindrance }}</span>
    </div>
  </section>
</template>

<style scoped>
.desk {
  border-left: 3px solid var(--act);
  padding-left: 14px;
}
</style>
