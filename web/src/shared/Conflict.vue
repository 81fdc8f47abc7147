<script setup lang="ts">
import { computed, reactive } from 'vue'
import { both, usual, written, type Differing, type Taken } from './differing'

/** Two people changed one thing: both texts side by side, and the choice line by line. */
const props = defineProps<{
  said: string
  rows: Differing[]
  names?: Record<string, string>
  say?: (path: string, value: unknown) => string | undefined
}>()
const emit = defineEmits<{ settle: [taken: Taken] }>()
const chosen = reactive<Taken>({})
const taken = (row: Differing): 'theirs' | 'mine' => chosen[row.path] ?? usual(row)
const single = computed(() => props.rows.length === 1)
const toChoose = computed(() => props.rows.filter(both).length)
const nameOf = (path: string): string =>
  props.names?.[path] ?? props.names?.[path.split('.').at(-1) ?? ''] ?? readable(path)
function readable(path: string): string {
  const words = path.replaceAll('.', ', ').replaceAll('_', ' ')
  return words.charAt(0).toUpperCase() + words.slice(1)
}
const words = (row: Differing, side: 'theirs' | 'mine'): string =>
  props.say?.(row.path, row[side]) ?? written(row[side])
function settle(all?: 'theirs' | 'mine') {
  emit('settle', Object.fromEntries(props.rows.map((row) => [row.path, all ?? taken(row)])))
}
</script>

<template>
  <div class="note bad stack tight" role="alert">
    <p>{{ said }} Nothing was written over; what you typed stands.</p>
    <table v-if="rows.length" class="ledger" aria-label="Both texts">
      <thead>
        <tr>
          <th></th>
          <th>Theirs, as it stands now</th>
          <th>Yours</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.path">
          <th scope="row">
            {{ nameOf(row.path) }}
            <div v-if="both(row)" class="quiet">both changed it</div>
          </th>
          <td v-for="side in ['theirs', 'mine'] as const" :key="side" class="side">
            <template v-if="single">{{ words(row, side) }}</template>
            <el-radio
              v-else
              :model-value="taken(row)"
              :value="side"
              :name="`conflict-${row.path}`"
              :aria-label="`${nameOf(row.path)}: ${side === 'mine' ? 'yours' : 'theirs'}, ${words(row, side)}`"
              @update:model-value="chosen[row.path] = side"
              >{{ words(row, side) }}</el-radio
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else>It says the same as what you typed.</p>
    <p v-if="single" class="row">
      <el-button @click="settle('theirs')">Keep theirs</el-button>
      <el-button type="primary" @click="settle('mine')">Keep mine</el-button>
    </p>
    <p v-else class="row">
      <el-button type="primary" @click="settle()">{{
        rows.length ? 'Go on with what is chosen' : 'Go on'
      }}</el-button>
      <el-button v-if="rows.length" @click="settle('theirs')">Take all of theirs</el-button>
      <span v-if="rows.length" class="quiet">{{
        toChoose ? 'Where both changed a line, yours is chosen first.' : 'No line was changed by both.'
      }}</span>
    </p>
  </div>
</template>

<style scoped>
th[scope] {
  font-weight: 400;
  width: 30%;
}
.side :deep(.el-radio) {
  height: auto;
  white-space: normal;
  align-items: flex-start;
}
.side :deep(.el-radio__label) {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
