<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import { several } from '@/shared/format'

/** What stands in a column and how it is read, with what can be said of how it is written. */
defineProps<{ column: Schemas['SheetColumn'] }>()
defineEmits<{ way: [name: string, value: string] }>()
const ASKED: Record<string, string> = {
  rhythm: 'where no rhythm stands, per',
  decimal: 'numbers like',
  unit: 'a bare number is',
  days: 'days with the',
}
const SAID: Record<string, string> = { '.': '1,200.5', ',': '1.200,5' }
const options = (way: Schemas['Way']) => way.choices.map((one) => ({ value: one, words: SAID[one] ?? one }))
</script>

<template>
  <div class="read">
    <div v-for="cell in column.read" :key="cell.theirs" class="cell">
      <span class="quiet">{{ cell.theirs.slice(0, 70) }}{{ cell.theirs.length > 70 ? ' …' : '' }}</span>
      <span v-if="cell.fault" class="bad">{{ cell.fault }}</span>
      <span v-else-if="cell.ours && cell.ours !== cell.theirs">→ {{ cell.ours }}</span>
    </div>
    <div v-if="column.unread" class="bad">
      {{ several(column.unread, 'cell cannot be read', 'cells cannot be read') }}
    </div>
    <div v-if="column.ways.length" class="row ways">
      <label v-for="way in column.ways" :key="way.name" class="row">
        <span class="quiet">{{ ASKED[way.name] }}</span>
        <Choice
          :model-value="way.value ?? ''"
          :options="options(way)"
          :label="`${column.head || 'Column'}: ${ASKED[way.name]}`"
          placeholder="not said"
          @update:model-value="(now) => $emit('way', way.name, now)"
        />
      </label>
    </div>
  </div>
</template>

<style scoped>
.cell {
  overflow-wrap: anywhere;
}
.cell span + span {
  margin-left: 6px;
}
.ways {
  margin-top: 4px;
  gap: 4px 14px;
}
</style>
