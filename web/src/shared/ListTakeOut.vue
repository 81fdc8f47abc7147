<script setup lang="ts" generic="R">
import type { List } from './useList'

/** What is shown of a list, taken out as CSV or as a workbook. */
const props = defineProps<{ list: List<R> }>()
const take = (ending: string) => location.assign(props.list.out(ending))
</script>

<template>
  <el-dropdown trigger="click" @command="take">
    <el-button link type="primary">Take out</el-button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item command="csv">What is shown, as CSV</el-dropdown-item>
        <el-dropdown-item command="xlsx">What is shown, as a workbook</el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>
