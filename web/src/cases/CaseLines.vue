<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { money } from '@/shared/format'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'
import { BENEFITS } from '@/api/words'
import Choice from '@/shared/Choice.vue'
import type { FactSheet } from './factSheet'

/** Lines in money a year: typed as an amount, so much a robot, or a share of a person for some days. */
type Line = Schemas['LineOut']
type Row = Record<string, string>
const props = defineProps<{
  idea: number
  field: 'running_lines' | 'benefit_lines'
  sheet: FactSheet
  reckoned: Line[]
  /** Rows of the cost tables that can be taken as lines. */
  offers?: Row[]
}>()
const given = computed(() => props.sheet.rowsOf<Row>(props.field))
const version = computed(() => props.sheet.of(props.field).version)
const disabled = computed(() => props.sheet.locked.value)
const fault = computed(() => props.sheet.fault(props.field))
const { currency } = useMe()
const WAYS = [
  ['amount', 'an amount a year', ['amount']],
  ['per_robot', 'so much a robot', ['per_robot']],
  ['share', 'a share of a person', ['share', 'days', 'day_cost']],
] as const
const WORDS: Record<string, string> = {
  amount: 'Amount a year',
  per_robot: 'A robot and year',
  share: 'Share of a person',
  days: 'Days a year',
  day_cost: 'A day costs',
}
const AFTER: Record<string, string> = {
  amount: 'a year',
  per_robot: 'a robot and year',
  share: 'of a person',
  days: 'days a year',
  day_cost: 'a day',
}
const benefit = computed(() => props.field === 'benefit_lines')
const rows = ref<Row[]>([])
const dirty = ref(false)
// The version that the lines had when somebody began to change them.
const seen = ref(0)
watch(dirty, (now) => now && !unsent.from.value && (seen.value = version.value))
const unsent = useDraft(
  'The lines',
  () => `lines-${props.idea}-${props.field}`,
  { rows },
  { open: dirty, seen },
)
watch(
  () => JSON.stringify(given.value),
  () => {
    if (dirty.value) return
    rows.value = given.value.map((row) => ({ ...row }))
    unsent.done()
  },
  { immediate: true },
)
const wayOf = (row: Row): string => WAYS.find(([key]) => key !== 'amount' && key in row)?.[0] ?? 'amount'
function setWay(row: Row, way: string) {
  for (const name of Object.keys(WORDS)) delete row[name]
  for (const name of WAYS.find(([key]) => key === way)?.[2] ?? []) row[name] = ''
  dirty.value = true
}
const parts = (row: Row): readonly string[] => WAYS.find(([key]) => key === wayOf(row))?.[2] ?? []
function add() {
  dirty.value = true
  rows.value.push({ name: '', amount: '', ...(benefit.value ? { kind: 'errors avoided', how: '' } : {}) })
}
function take(name: string) {
  const one = props.offers?.find((row) => row.name === name)
  if (!one) return
  dirty.value = true
  rows.value.push({ ...one })
}
function send() {
  void props.sheet.typedOver(
    props.field,
    rows.value.map((row) => ({ ...row })),
    seen.value === version.value ? undefined : seen.value,
  )
  dirty.value = false
  unsent.done()
}
function undo() {
  dirty.value = false
  rows.value = given.value.map((row) => ({ ...row }))
}
const total = (name: string | undefined): Line | undefined => props.reckoned.find((one) => one.name === name)
</script>

<template>
  <div class="stack tight" :data-field="field">
    <div v-for="(row, n) in rows" :key="n" class="line">
      <el-input
        v-model="row.name"
        style="--chars: 22"
        maxlength="80"
        :aria-label="`Name of line ${n + 1}`"
        placeholder="Name"
        :disabled="disabled"
        @input="dirty = true"
      />
      <Choice
        v-if="benefit"
        :model-value="row.kind ?? ''"
        :options="BENEFITS"
        :label="`Kind of line ${n + 1}`"
        :disabled="disabled"
        @update:model-value="(now) => ((row.kind = now), (dirty = true))"
      />
      <Choice
        :model-value="wayOf(row)"
        :options="WAYS.map(([value, words]) => ({ value, words }))"
        :label="`How line ${n + 1} is reckoned`"
        :disabled="disabled"
        @update:model-value="(now) => setWay(row, now)"
      />
      <span v-for="part in parts(row)" :key="part" class="quiet part">
        <NumberField
          :model-value="row[part]"
          :chars="7"
          :label="`${WORDS[part]} of line ${n + 1}`"
          :disabled="disabled"
          @update:model-value="(now) => ((row[part] = now), (dirty = true))"
        />
        {{ AFTER[part] }}
      </span>
      <el-input
        v-model="row.currency"
        style="--chars: 4"
        maxlength="3"
        :aria-label="`Currency of line ${n + 1}`"
        :placeholder="currency"
        :disabled="disabled"
        @input="dirty = true"
      />
      <el-input
        v-if="benefit"
        v-model="row.how"
        style="--chars: 26"
        maxlength="300"
        :aria-label="`How line ${n + 1} comes about`"
        placeholder="How it comes about"
        :disabled="disabled"
        @input="dirty = true"
      />
      <span v-if="!dirty" class="quiet">
        {{ money(total(row.name)?.a_year, currency) }} a year
        <template v-if="total(row.name)?.how_reckoned">({{ total(row.name)?.how_reckoned }})</template>
      </span>
      <el-button
        v-if="!disabled"
        :aria-label="`Take off line ${n + 1}`"
        link
        type="primary"
        @click="((dirty = true), rows.splice(n, 1))"
      >
        Take off
      </el-button>
    </div>
    <p v-if="!rows.length" class="quiet">None.</p>
    <p v-if="!disabled" class="row">
      <el-button @click="add">Add a line</el-button>
      <Choice
        v-if="offers?.length"
        :model-value="'' as string"
        :options="offers.map((one) => one.name ?? '')"
        label="Take a row of the cost tables"
        placeholder="Take a row of the cost tables"
        @update:model-value="take"
      />
      <el-button v-if="dirty" type="primary" @click="send">Keep the lines</el-button>
      <el-button v-if="dirty" @click="undo">Cancel</el-button>
    </p>
    <p v-if="fault" class="bad" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
</style>
