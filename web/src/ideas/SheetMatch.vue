<script setup lang="ts">
import { computed } from 'vue'
import Choice from '@/shared/Choice.vue'
import { number, several } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import SheetColumnRead from './SheetColumnRead.vue'
import { matched, useSheet, type Sheet } from './useSheet'

/** Which column of a list is what: told by heads or contents, said right or changed here, kept at once. */
const props = defineProps<{ sheet: Sheet }>()
const { match, keep, head } = useSheet(() => props.sheet)
const MOST_HEADS = 12
const fieldOf = (column: number): string =>
  Object.entries(match.value.columns).find(([, at]) => at === column)?.[0] ?? ''
const taken = computed(() => Object.keys(match.value.columns))
const fieldsFor = (column: number) =>
  props.sheet.fields.map((one) => {
    const elsewhere = one.value !== fieldOf(column) && taken.value.includes(one.value)
    return { value: one.value, words: elsewhere ? `${one.words} (taken)` : one.words }
  })
const lacking = computed(() =>
  props.sheet.fields.filter((one) => one.needed && !taken.value.includes(one.value)),
)
const asked = computed(() => match.value.asked ?? [])
const columnsAsked = computed(() => asked.value.filter((name) => name !== 'head').length)
const heads = computed(() => [
  { value: 0, words: 'nowhere: the first row is an idea' },
  ...Array.from({ length: MOST_HEADS }, (_, n) => ({
    value: n + 1,
    words: `in row ${n + 1}${n + 1 === props.sheet.head_row ? saidIn(n) : ''}`,
  })),
])
const saidIn = (at: number): string => {
  const words = (props.sheet.above[at] ?? []).filter(Boolean).join(' · ')
  return words ? `: ${words.slice(0, 40)}` : ''
}
const right = (...names: string[]) =>
  keep.go({ ...match.value, asked: asked.value.filter((one) => !names.includes(one)) })
function way(field: string, name: string, value: string) {
  const ways = { ...match.value.ways, [field]: { ...match.value.ways?.[field], [name]: value } }
  void keep.go({ ...match.value, ways })
}
const nameOf = (n: number): string => props.sheet.columns[n]?.head || `column ${n + 1}`
</script>

<template>
  <section class="stack tight">
    <h2>Which column is what</h2>
    <p class="row">
      The head stands
      <Choice
        :model-value="sheet.head_row"
        :options="heads"
        label="The head stands"
        :disabled="!!sheet.errand || head.busy.value"
        @update:model-value="(now) => head.go(now)"
      />
      <el-button v-if="asked.includes('head')" @click="right('head')">That is right</el-button>
      <span class="quiet">{{ several(sheet.total, 'line follows', 'lines follow') }}.</span>
    </p>
    <p v-if="sheet.limits.length" class="note care">
      The file is larger than what is read. Left out: {{ sheet.limits.join('; ') }}.
    </p>
    <p v-if="columnsAsked" class="note care row" role="status">
      {{ several(columnsAsked, 'column was', 'columns were') }} told by what stands in
      {{ columnsAsked === 1 ? 'it' : 'them' }}, as no head says it. Look whether that is right.
      <el-button @click="right(...asked)">All are right</el-button>
    </p>
    <div class="columns">
      <table class="ledger">
        <thead>
          <tr>
            <th>Column</th>
            <th>Stands for</th>
            <th>What is in it, and how it is read</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(column, n) in sheet.columns" :key="n">
            <td>
              <b>{{ nameOf(n) }}</b>
              <div class="quiet">{{ column.filled ? `${number(column.filled)} filled` : 'empty' }}</div>
            </td>
            <td>
              <Choice
                :model-value="fieldOf(n)"
                :options="fieldsFor(n)"
                :label="`${nameOf(n)} stands for`"
                nothing="– stays out –"
                none=""
                @update:model-value="(now) => keep.go(matched(match, n, now))"
              />
              <div v-if="fieldOf(n) && asked.includes(fieldOf(n))" class="row asked">
                <span class="care">told by what is in it</span>
                <el-button size="small" @click="right(fieldOf(n))">Right</el-button>
              </div>
            </td>
            <td>
              <SheetColumnRead :column="column" @way="(name, value) => way(column.field, name, value)" />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="lacking.length" class="note care">Choose the column for “{{ lacking[0]?.words }}”.</p>
    <Problem :error="keep.error.value ?? head.error.value" />
  </section>
</template>

<style scoped>
.columns {
  overflow-x: auto;
}
.asked {
  margin-top: 4px;
}
@media (max-width: 700px) {
  .columns thead {
    display: none;
  }
  .columns :is(table, tbody, tr, td) {
    display: block;
  }
  .columns tr {
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
  }
  .columns td {
    border: 0;
    padding: 2px 0;
  }
}
</style>
