<script setup lang="ts">
import { computed } from 'vue'
import { answer, asked } from './leaving'

/** Asked before a page is left on which something is typed that nobody has got yet. */
const lost = computed(() => asked.value.filter((one) => !one.kept))
const kept = computed(() => asked.value.filter((one) => one.kept))
const names = (all: { what: string }[]): string => [...new Set(all.map((one) => one.what))].join(', ')
const open = computed({ get: () => asked.value.length > 0, set: (now) => !now && answer(false) })
</script>

<template>
  <el-dialog v-model="open" title="Leave what is typed here?" width="460px" append-to-body>
    <div class="stack tight">
      <p v-if="kept.length">
        <b>{{ names(kept) }}</b>: not sent yet. This browser keeps it, and it stands here again when you come
        back.
      </p>
      <p v-if="lost.length">
        <b>{{ names(lost) }}</b>: not kept yet, and lost when you leave.
      </p>
    </div>
    <template #footer>
      <div class="row end">
        <el-button autofocus @click="answer(false)">Stay here</el-button>
        <el-button type="primary" @click="answer(true)">{{
          lost.length ? 'Leave and lose it' : 'Leave, keep the draft'
        }}</el-button>
      </div>
    </template>
  </el-dialog>
</template>

<style scoped>
.end {
  justify-content: flex-end;
}
</style>
