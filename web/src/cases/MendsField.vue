<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { FactSheet } from './factSheet'

/** What the idea should mend: ten points over five reasons, as marks that are set with buttons. */
const props = defineProps<{ sheet: FactSheet }>()
const value = computed(() => (props.sheet.value('mends') || {}) as Record<string, number>)
const REASONS = [
  ['cost', 'Cost', 'what the work costs'],
  ['errors', 'Errors', 'what goes wrong in it'],
  ['waiting', 'Waiting', 'how long others wait for it'],
  ['rules', 'Rules', 'what must be kept or proved'],
  ['relief of staff', 'Relief of staff', 'dull or pressing work taken off people'],
] as const
const POINTS = 10
const points = ref<Record<string, number>>({})
watch(
  () => JSON.stringify(value.value),
  () => (points.value = { ...value.value }),
  { immediate: true },
)
const of = (key: string): number => points.value[key] ?? 0
const left = computed(() => POINTS - REASONS.reduce((sum, [key]) => sum + of(key), 0))
function add(key: string, by: number) {
  points.value[key] = of(key) + by
  void props.sheet.keep('mends', { ...points.value })
}
</script>

<template>
  <div class="stack tight" data-field="mends">
    <table class="ledger">
      <tbody>
        <tr v-for="[key, name, about] in REASONS" :key="key">
          <td>
            {{ name }} <span class="quiet">{{ about }}</span>
          </td>
          <td class="marks" aria-hidden="true">{{ '|'.repeat(of(key)) }}</td>
          <td class="num">{{ of(key) }}</td>
          <td v-if="!sheet.locked.value" class="num set">
            <el-button
              :aria-label="`One point less for ${name}`"
              :disabled="of(key) === 0"
              @click="add(key, -1)"
            >
              −
            </el-button>
            <el-button :aria-label="`One point more for ${name}`" :disabled="left === 0" @click="add(key, 1)">
              +
            </el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet" role="status">
      {{ left === 0 ? `All ${POINTS} points are given.` : `${left} of ${POINTS} points are left to give.` }}
    </p>
    <p v-if="sheet.fault('mends')" class="bad" role="alert">{{ sheet.fault('mends') }}</p>
  </div>
</template>

<style scoped>
.marks {
  letter-spacing: 3px;
  font-weight: 600;
}
.set {
  white-space: nowrap;
}
.set button {
  min-width: 28px;
  padding: 0 6px;
}
</style>
