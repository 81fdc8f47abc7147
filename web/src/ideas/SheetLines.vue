<script setup lang="ts">
import { computed, ref } from 'vue'
import Glyph from '@/shared/Glyph.vue'
import { several } from '@/shared/format'
import SheetMend from './SheetMend.vue'
import type { Sheet } from './useSheet'

/** What becomes of each line of a list: those that stay out first, with column, value and mend. */
const props = defineProps<{ sheet: Sheet; past: boolean }>()
const STATES = [
  { key: 'fault', words: 'stay out', glyph: 'unmet' },
  { key: 'conflict', words: 'are in conflict', glyph: 'asked' },
  { key: 'in', words: 'come in', glyph: 'met' },
  { key: 'here', words: 'are here already', glyph: 'merged' },
  { key: 'repeat', words: 'stand twice', glyph: 'parked' },
]
const WORD: Record<string, string> = {
  fault: 'stays out',
  conflict: 'is in conflict',
  in: 'comes in',
  here: 'is here already',
  repeat: 'stands twice',
}
const state = ref('')
const most = ref(100)
const counts = computed(() => props.sheet.counts)
const first = computed(() => ['conflict', 'fault'].find((one) => counts.value[one]) ?? 'in')
// What was looked at last stays in sight, until its last line is mended.
const now = computed(() => (counts.value[state.value] ? state.value : first.value))
const rows = computed(() => props.sheet.lines.filter((line) => line.state === now.value))
const settled = (line: Sheet['lines'][number]) => !line.open && !['fault', 'conflict'].includes(line.state)
</script>

<template>
  <div class="stack tight">
    <p class="row" role="group" aria-label="Lines">
      <el-button
        v-for="one in STATES"
        :key="one.key"
        class="chip"
        :class="{ on: now === one.key }"
        :disabled="!counts[one.key]"
        @click="((state = one.key), (most = 100))"
      >
        {{
          several(
            counts[one.key] ?? 0,
            past && one.key === 'in' ? 'taken in' : (WORD[one.key] ?? ''),
            past && one.key === 'in' ? 'taken in' : one.words,
          )
        }}
      </el-button>
    </p>
    <table v-if="rows.length" class="ledger">
      <thead>
        <tr>
          <th style="width: 54px">Line</th>
          <th>Idea</th>
          <th style="width: 130px">What becomes of it</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in rows.slice(0, most)" :key="line.line">
          <td class="num">{{ line.line }}</td>
          <td>
            <router-link v-if="line.idea" class="whole" :to="`/ideas/${line.idea}`"
              >I-{{ line.idea }} {{ line.title }}</router-link
            >
            <b v-else>{{ line.title || 'without a name' }}</b>
            <SheetMend v-if="!settled(line)" :sheet="sheet" :line="line" :out="now === 'fault'" />
            <template v-else>
              <div v-for="fault in line.faults" :key="fault.field + fault.message" class="care">
                {{ fault.column }} “{{ fault.value }}” {{ fault.message }}; came in without it
              </div>
            </template>
            <div v-for="note in line.notes" :key="note" class="quiet">{{ note }}</div>
          </td>
          <td>
            <Glyph
              :state="STATES.find((one) => one.key === line.state)?.glyph ?? 'met'"
              :word="
                line.open
                  ? (WORD[line.state] ?? '')
                  : line.state === 'in'
                    ? 'came in'
                    : (WORD[line.state] ?? '')
              "
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="rows.length > most">
      <el-button @click="most += 400">Show more of {{ rows.length }}</el-button>
    </p>
  </div>
</template>
