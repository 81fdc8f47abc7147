<script setup lang="ts">
/** A dialog that says what will happen before it happens. */
defineProps<{ title: string; action: string; busy?: boolean; off?: boolean; wide?: boolean }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ yes: [] }>()
</script>

<template>
  <el-dialog v-model="open" :title="title" :width="wide ? '600px' : '460px'" append-to-body>
    <div class="stack tight"><slot /></div>
    <template #footer>
      <div class="row end">
        <el-button @click="open = false">Cancel</el-button>
        <el-button :disabled="busy || off" type="primary" @click="emit('yes')">{{ action }}</el-button>
      </div>
    </template>
  </el-dialog>
</template>

<style scoped>
.end {
  justify-content: flex-end;
}
</style>
