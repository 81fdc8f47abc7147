<script setup lang="ts">
import { ref, useId } from 'vue'

/** What few need to read or fill, behind the words that say what it is. */
const props = defineProps<{ words: string; open?: boolean }>()
const id = useId()
const opened = ref(props.open ?? false)
</script>

<template>
  <div class="stack tight">
    <p>
      <el-button link type="primary" :aria-expanded="opened" :aria-controls="id" @click="opened = !opened"
        ><span class="sign" aria-hidden="true">{{ opened ? '−' : '+' }}</span> {{ words }}</el-button
      >
    </p>
    <div v-if="opened" :id="id" class="stack tight"><slot /></div>
  </div>
</template>

<style scoped>
.sign {
  display: inline-block;
  width: 14px;
}
</style>
