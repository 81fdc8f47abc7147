<script setup lang="ts">
import { computed, ref } from 'vue'
import { dayText } from '@/shared/format'
import QuestionField from '@/shared/QuestionField.vue'
import type { FactSheet } from './factSheet'

/** What the work arrives as, by parts; changed as a whole. */
const props = defineProps<{ sheet: FactSheet }>()
const question = { key: 'arrives', kind: 'arrives' as const, text: 'What it arrives as', choices: [] }
const kinds = ref<unknown>(undefined)
const value = computed(() => props.sheet.rowsOf<{ kind: string; part: string }>('arrives'))
const fact = computed(() => props.sheet.of('arrives'))
const locked = computed(() => props.sheet.locked.value)
</script>

<template>
  <template v-if="locked || kinds === undefined">
    <p>{{ value.map((row) => `${row.kind} (${row.part})`).join(', ') || 'missing' }}</p>
    <p class="quiet">
      {{ fact.source }}<template v-if="fact.date">, {{ dayText(fact.date) }}</template>
    </p>
    <p v-if="!locked">
      <el-button data-field="arrives" @click="kinds = sheet.value('arrives') || null"
        >Change the parts</el-button
      >
    </p>
  </template>
  <template v-else>
    <QuestionField v-model="kinds" :question="question" :fault="sheet.fault('arrives')" />
    <p class="row">
      <el-button type="primary" @click="sheet.keep('arrives', kinds).then(() => (kinds = undefined))">
        Keep the parts
      </el-button>
      <el-button @click="kinds = undefined">Cancel</el-button>
    </p>
  </template>
</template>
