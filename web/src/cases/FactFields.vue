<script setup lang="ts">
import { OPTIONAL } from '@/api/words'
import FactField from './FactField.vue'
import type { FactSheet, SheetField } from './factSheet'

/** Fields of a sheet side by side. */
defineProps<{
  sheet: FactSheet
  fields: readonly SheetField[]
  /** What is to be looked at, by field. */
  points?: Record<string, string>
  /** Whether what a field means is said also where it is filled. */
  explain?: boolean
}>()
</script>

<template>
  <div class="fields" :class="{ long: fields.every((one) => one.kind === 'long') }">
    <FactField
      v-for="one in fields"
      :key="one.field"
      :fact="sheet.of(one.field)"
      :value="sheet.value(one.field)"
      :fault="sheet.fault(one.field)"
      :unit="one.unit"
      :disabled="sheet.locked.value || one.fixed"
      :optional="OPTIONAL.includes(one.field)"
      :kind="one.kind"
      :choices="one.choices"
      :point="points?.[one.field]"
      :about="one.about"
      :explain="explain"
      @typing="(now) => sheet.preview?.type(one.field, now)"
      @keep="(now, seen) => sheet.leave(one.field, now, seen)"
    />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(155px, 1fr));
  gap: 12px 20px;
  margin-top: 8px;
}
.fields.long {
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
}
</style>
