<script setup lang="ts" generic="R extends { id: number }">
import { useMediaQuery } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import type { Column } from './useList'

/**
 * The rows of a list: a table whose heads belong to their cells, ordered by its heads and ticked for doing one thing
 * with many; on a phone each row is a card.
 */
const props = defineProps<{
  rows: R[]
  /** What the first column holds, which is always shown. */
  first: string
  columns: readonly Column[]
  sort?: string
  ticks?: boolean
  /** The row that stands open. */
  open?: number | null
  nameOf?: (row: R) => string
}>()
const emit = defineEmits<{ sort: [name: string] }>()
const ticked = defineModel<number[]>('ticked', { default: () => [] })
const cards = useMediaQuery('(max-width: 700px)')
const MOST_TICKED = 200
// What fits a screen is drawn first, the rest once that stands: the page is there sooner.
const AT_FIRST = 14
const whole = ref(props.rows.length <= AT_FIRST || typeof props.open === 'number')
onMounted(() => requestAnimationFrame(() => setTimeout(() => (whole.value = true))))
const shown = computed(() => (whole.value ? props.rows : props.rows.slice(0, AT_FIRST)))
const all = computed(() => props.rows.length > 0 && props.rows.every((row) => ticked.value.includes(row.id)))
const nameOf = (row: R): string => props.nameOf?.(row) ?? String(row.id)
function tick(id: number) {
  ticked.value = ticked.value.includes(id) ? ticked.value.filter((one) => one !== id) : [...ticked.value, id]
}
function tickAll() {
  ticked.value = all.value ? [] : props.rows.map((row) => row.id).slice(0, MOST_TICKED)
}
</script>

<template>
  <ul v-if="cards" class="cards">
    <li v-for="row in shown" :key="row.id" :class="{ open: row.id === open || ticked.includes(row.id) }">
      <div class="spread">
        <div><slot name="first" :row="row" /></div>
        <el-checkbox
          v-if="ticks"
          :aria-label="`Choose ${nameOf(row)}`"
          :model-value="ticked.includes(row.id)"
          @change="tick(row.id)"
        />
      </div>
      <dl>
        <div v-for="column in columns" :key="column.key">
          <dt>{{ column.name }}</dt>
          <dd><slot name="cell" :row="row" :column="column" /></dd>
        </div>
      </dl>
      <slot v-if="row.id === open" name="opened" :row="row" />
    </li>
  </ul>
  <table v-else class="ledger">
    <thead>
      <tr>
        <th v-if="ticks" class="tick">
          <el-checkbox aria-label="Choose all shown" :model-value="all" @change="tickAll" />
        </th>
        <th>{{ first }}</th>
        <th
          v-for="column in columns"
          :key="column.key"
          :class="{ num: column.num }"
          :style="column.width ? { width: `${column.width}px` } : undefined"
          :aria-sort="column.sort && sort === column.sort ? 'descending' : undefined"
        >
          <el-button
            v-if="column.sort"
            class="head"
            :class="{ on: sort === column.sort }"
            link
            type="primary"
            @click="emit('sort', column.sort)"
            >{{ column.name }}{{ sort === column.sort ? ' ↓' : '' }}</el-button
          >
          <template v-else>{{ column.name }}</template>
        </th>
      </tr>
    </thead>
    <tbody>
      <template v-for="row in shown" :key="row.id">
        <tr :class="{ open: row.id === open || ticked.includes(row.id) }" :data-spot="row.id === open">
          <td v-if="ticks" class="tick">
            <el-checkbox
              :aria-label="`Choose ${nameOf(row)}`"
              :model-value="ticked.includes(row.id)"
              @change="tick(row.id)"
            />
          </td>
          <td><slot name="first" :row="row" /></td>
          <td v-for="column in columns" :key="column.key" :class="{ num: column.num }">
            <slot name="cell" :row="row" :column="column" />
          </td>
        </tr>
        <tr v-if="row.id === open && $slots.opened">
          <td :colspan="columns.length + (ticks ? 2 : 1)"><slot name="opened" :row="row" /></td>
        </tr>
      </template>
    </tbody>
  </table>
</template>

<style scoped>
.tick {
  width: 26px;
}
.head {
  font: inherit;
  color: inherit;
  white-space: normal;
  text-align: inherit;
}
.head.on {
  color: var(--ink);
  font-weight: 600;
}
.cards {
  list-style: none;
  margin: 0;
  padding: 0;
}
.cards > li {
  border-bottom: 1px solid var(--hair);
  padding: 10px 0;
}
.cards > li.open {
  background: var(--act-soft);
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 6px 0 0;
}
dt {
  font-size: 12px;
  color: var(--ink-2);
}
dd {
  margin: 0;
}
</style>
