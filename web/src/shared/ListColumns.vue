<script setup lang="ts" generic="R">
import Choice from './Choice.vue'
import type { List } from './useList'

/** The order of a list, and which of its columns are shown. Read when a list has either. */
const props = defineProps<{ list: List<R>; choosing: boolean; orders: { value: string; words: string }[] }>()
const { sort, columns, all } = props.list
</script>

<template>
  <el-popover trigger="click" width="240" :teleported="true">
    <template #reference>
      <el-button link type="primary">Columns and order</el-button>
    </template>
    <div class="stack tight">
      <label v-if="orders.length > 1" class="stack tight"
        >Order
        <Choice v-model="sort" :options="orders" label="Order" />
      </label>
      <div v-if="choosing" role="group" aria-label="Columns">
        <el-checkbox
          v-for="column in all"
          :key="column.key"
          class="column"
          :model-value="columns.some((one) => one.key === column.key)"
          @change="(on: unknown) => list.showColumn(column.key, on === true)"
          >{{ column.name }}</el-checkbox
        >
      </div>
    </div>
  </el-popover>
</template>

<style scoped>
.column {
  display: flex;
  margin: 0;
}
</style>
