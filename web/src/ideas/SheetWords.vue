<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import DivisionField from '@/shared/DivisionField.vue'
import Fold from '@/shared/Fold.vue'
import { several } from '@/shared/format'
import PersonField from '@/shared/PersonField.vue'
import Problem from '@/shared/Problem.vue'
import { useSheet, type Sheet } from './useSheet'

/** Words of theirs and what they stand for here, said once for all lines: those that say nothing yet first. */
const props = defineProps<{ sheet: Sheet }>()
const { word } = useSheet(() => props.sheet)
type Word = Schemas['SheetWord']
const OF: Record<string, string> = {
  person: 'person',
  division: 'division',
  kind: 'kind of input',
  state: 'state',
  rhythm: 'rhythm',
  changed: 'change in the last year',
  announced: 'announced change',
}
const STATES: Record<string, string> = { out: 'its lines stay out' }
const open = computed(() => props.sheet.words.filter((one) => !one.how))
const known = computed(() => props.sheet.words.filter((one) => one.how))
const groups = computed(() => [
  { key: 'open', rows: open.value },
  { key: 'known', rows: known.value },
])
const options = (one: Word) =>
  (props.sheet.ours[one.of] ?? []).map((value) => ({ value, words: STATES[value] ?? value }))
const idOf = (one: Word) => (one.ours && /^\d+$/.test(one.ours) ? Number(one.ours) : null)
const say = (one: Word, ours: string | number | null) => word.go(one.of, one.theirs, ours)
</script>

<template>
  <section v-if="sheet.words.length" class="stack tight">
    <h2>Their words and ours</h2>
    <p v-if="open.length" class="quiet">
      {{ several(open.length, 'word says', 'words say') }} nothing here yet. Say once what each stands for; it
      counts for every line.
    </p>
    <p v-else class="quiet">Every name, kind and state of the list is known here.</p>
    <component
      :is="group.key === 'known' ? Fold : 'div'"
      v-for="group in groups.filter((one) => one.rows.length)"
      :key="group.key"
      :words="`${several(known.length, 'word that is known', 'words that are known')}, to look through or change`"
    >
      <table class="ledger">
        <thead>
          <tr>
            <th>Theirs</th>
            <th>Stands for</th>
            <th style="width: 110px"></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in group.rows" :key="`${one.of} ${one.theirs}`">
            <td>
              <b class="theirs">{{ one.theirs }}</b>
              <div class="quiet">{{ OF[one.of] }}, in {{ several(one.lines, 'line', 'lines') }}</div>
            </td>
            <td>
              <PersonField
                v-if="one.of === 'person'"
                :model-value="idOf(one)"
                plain
                :label="`${one.theirs} is`"
                :placeholder="one.near ? `${one.words}?` : 'Type a name'"
                @update:model-value="(now) => say(one, now)"
              />
              <DivisionField
                v-else-if="one.of === 'division'"
                :model-value="idOf(one)"
                :label="`${one.theirs} is`"
                @update:model-value="(now) => say(one, now)"
              />
              <Choice
                v-else
                :model-value="one.ours ?? ''"
                :options="options(one)"
                :label="`${one.theirs} is`"
                placeholder="not said"
                @update:model-value="(now) => say(one, now)"
              />
              <div v-if="one.near && !one.how" class="row near">
                <el-button size="small" @click="say(one, Number(one.near))">It is {{ one.words }}</el-button>
              </div>
            </td>
            <td>
              <el-button v-if="one.how === 'said'" size="small" @click="say(one, null)">Take back</el-button>
              <el-button v-else-if="!one.how && one.of !== 'rhythm'" size="small" @click="say(one, '')"
                >Leave empty</el-button
              >
              <div v-if="one.how === 'said' && one.ours === ''" class="quiet">left empty</div>
            </td>
          </tr>
        </tbody>
      </table>
    </component>
    <p v-if="sheet.more_words" class="note care">
      {{ several(sheet.more_words, 'more word is', 'more words are') }} not shown; those said first make room.
    </p>
    <Problem :error="word.error.value" />
  </section>
</template>

<style scoped>
.theirs {
  overflow-wrap: anywhere;
}
.near {
  margin-top: 4px;
}
</style>
