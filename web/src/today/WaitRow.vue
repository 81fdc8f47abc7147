<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import RequestAnswer from './RequestAnswer.vue'
import { several } from '@/shared/format'

/** One thing that waits: what is to be done, and the decision itself where a word settles it. */
const props = defineProps<{ one: Schemas['Waits'] }>()
const KINDS: Record<string, string> = {
  late: 'Decide',
  count: 'Look at',
  draft: 'Go on',
  answer: 'Answer',
  confirm: 'Confirm',
  review: 'Review',
  size: 'Size',
  agree: 'Agree',
  decide: 'Decide',
  build: 'Take up',
  'go on': 'Build',
  'go live': 'Go live',
  approve: 'Look at',
  rate: 'Approve',
  access: 'Answer',
  computer: 'Answer',
  measure: 'See to it',
}
const path = () => ({ path: { number: props.one.number ?? 0 } })
const DECISIONS: Record<string, { words: string; act: () => Promise<unknown> }[]> = {
  rate: [
    {
      words: 'Approve',
      act: () => ask(api.POST('/api/v1/rates/{number}/settle', { params: path(), body: { approved: true } })),
    },
    {
      words: 'Refuse',
      act: () =>
        ask(api.POST('/api/v1/rates/{number}/settle', { params: path(), body: { approved: false } })),
    },
  ],
  late: [
    {
      words: 'It counts',
      act: () => ask(api.POST('/api/v1/runs/{number}/late', { params: path(), body: { counts: true } })),
    },
    {
      words: 'It does not count',
      act: () => ask(api.POST('/api/v1/runs/{number}/late', { params: path(), body: { counts: false } })),
    },
  ],
  count: [
    {
      words: 'It is right, post it',
      act: () => ask(api.POST('/api/v1/value/runs/{number}/right', { params: path() })),
    },
  ],
}
const decide = useAction((act: () => Promise<unknown>) => act())
const answering = ref(false)
</script>

<template>
  <tr>
    <td>{{ KINDS[one.kind] ?? one.kind }}</td>
    <td>
      <router-link class="whole" :to="one.link">{{ one.title }}</router-link>
      <div class="quiet">{{ one.words }}</div>
      <RequestAnswer v-if="answering" :number="one.number ?? 0" @leave="answering = false" />
      <Problem :error="decide.error.value" />
    </td>
    <td class="num">
      <template v-if="one.number !== null">
        <el-button
          v-for="way in DECISIONS[one.kind] ?? []"
          :key="way.words"
          :disabled="decide.busy.value"
          :aria-label="`${way.words}: ${one.title}`"
          @click="decide.go(way.act)"
          >{{ way.words }}</el-button
        >
        <el-button v-if="one.kind === 'access'" :aria-expanded="answering" @click="answering = !answering"
          >Answer it</el-button
        >
      </template>
      <When v-if="one.due" :at="one.due" />
      <div v-if="one.late" class="quiet bad">{{ several(one.late, 'day', 'days') }} late</div>
    </td>
  </tr>
</template>
