<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { computed } from 'vue'
import { useKeys } from '@/shared/keys'
import { carryOutOnLeaving, doing, doNow, readRefused, refused, takeBack } from '@/shared/undo'

/** What was just done and can still be taken back, with the seconds that are left. */
const now = useNow({ interval: 500 })
const left = (at: number): number => Math.max(0, Math.ceil((at - now.value.getTime()) / 1000))
const some = computed(() => doing.value.length > 0 || refused.value.length > 0)
useKeys([
  {
    key: 'u',
    words: 'Take back what was just done',
    when: () => doing.value.length > 0,
    act: () => takeBack(),
  },
])
carryOutOnLeaving()
</script>

<template>
  <div v-if="some" class="undo stack tight" role="status">
    <p v-for="one in doing" :key="one.at" class="row">
      <span>{{ one.words }}</span>
      <el-button @click="takeBack(one)">Take it back, {{ left(one.at) }} s</el-button>
      <el-button link type="primary" @click="doNow(one)">Do it now</el-button>
    </p>
    <p v-for="one in refused" :key="one.words" class="bad">{{ one.words }}, and was refused: {{ one.why }}</p>
    <p v-if="refused.length">
      <el-button link type="primary" @click="readRefused">I have read it</el-button>
    </p>
  </div>
</template>

<style scoped>
.undo {
  position: fixed;
  left: 50%;
  bottom: 0;
  transform: translateX(-50%);
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-bottom: 0;
  padding: 10px 16px;
  z-index: 6;
  max-width: min(680px, 96vw);
}
</style>
