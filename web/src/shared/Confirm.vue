<script setup lang="ts">
import { ElDialog } from 'element-plus'

/** A dialog that says what will happen before it happens. */
defineProps<{ title: string; action: string; busy?: boolean }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ yes: [] }>()
</script>

<template>
  <ElDialog v-model="open" :title="title" width="460px" append-to-body>
    <div class="stack tight"><slot /></div>
    <template #footer>
      <div class="row end">
        <el-button @click="open = false">Cancel</el-button>
        <el-button :disabled="busy" type="primary" @click="emit('yes')">{{ action }}</el-button>
      </div>
    </template>
  </ElDialog>
</template>

<style scoped>
.end {
  justify-content: flex-end;
}
</style>
