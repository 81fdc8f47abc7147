<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Problem from '@/shared/Problem.vue'
import { said, type Question } from '@/shared/questions'

/** All answers once more before an idea is handed in, and what it still needs for that. */
defineProps<{
  idea: Schemas['IdeaWhole']
  questions: Question[]
  lacking: Question[]
  busy: boolean
  error: unknown
}>()
const emit = defineEmits<{ go: [to: number]; handIn: [] }>()
</script>

<template>
  <div class="stack">
    <div>
      <h1>A last look</h1>
      <p class="lead">Change what is wrong; then hand it in. A reviewer reads it within five working days.</p>
    </div>
    <table class="ledger">
      <tbody>
        <tr v-for="(one, n) in questions" :key="one.key">
          <td>
            <span class="quiet">{{ one.text }}</span>
            <div v-if="one.kind === 'files'">
              {{ idea.files.length ? idea.files.map((file) => file.name).join(', ') : 'nothing attached' }}
            </div>
            <div v-else :class="{ care: one.value === null }">{{ said(one) }}</div>
            <div v-if="one.remark" class="quiet">“{{ one.remark }}”</div>
          </td>
          <td class="num"><el-button link type="primary" @click="emit('go', n)">Change</el-button></td>
        </tr>
      </tbody>
    </table>
    <p v-if="lacking.length" class="note care">
      Still needed to hand it in:
      <template v-for="one in lacking" :key="one.key">
        <el-button link type="primary" @click="emit('go', questions.indexOf(one))">{{ one.text }}</el-button>
      </template>
    </p>
    <Problem :error="error" />
    <div class="row">
      <el-button @click="emit('go', questions.length - 1)">Back</el-button>
      <el-button :disabled="lacking.length > 0 || busy" type="primary" @click="emit('handIn')">
        Hand it in
      </el-button>
      <span v-if="lacking.length" class="quiet">The needed answers come first.</span>
    </div>
  </div>
</template>
