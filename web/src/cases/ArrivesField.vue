<script setup lang="ts">
import { computed, ref } from 'vue'
import { dayText } from '@/shared/format'
import QuestionField from '@/shared/QuestionField.vue'
import type { useFacts } from '@/cases/useFacts'

/** What the work arrives as, by parts; changed as a whole. */
const props = defineProps<{ facts: ReturnType<typeof useFacts>; disabled: boolean }>()
const question = { key: 'arrives', kind: 'arrives' as const, text: 'What it arrives as', choices: [] }
const kinds = ref<unknown>(undefined)
const value = computed(() => (props.facts.value('arrives') || []) as { kind: string; part: string }[])
const fact = computed(() => props.facts.find('arrives'))
</script>

<template>
  <template v-if="disabled || kinds === undefined">
    <p>{{ value.map((row) => `${row.kind} (${row.part})`).join(', ') || 'missing' }}</p>
    <p class="quiet">
      {{ fact?.source }}<template v-if="fact?.date">, {{ dayText(fact.date) }}</template>
    </p>
    <p v-if="!disabled">
      <el-button data-field="arrives" @click="kinds = facts.value('arrives') || null"
        >Change the parts</el-button
      >
    </p>
  </template>
  <template v-else>
    <QuestionField v-model="kinds" :question="question" :fault="facts.faults.arrives" />
    <p class="row">
      <el-button type="primary" @click="facts.keep('arrives', kinds).then(() => (kinds = undefined))">
        Keep the parts
      </el-button>
      <el-button @click="kinds = undefined">Cancel</el-button>
    </p>
  </template>
</template>
