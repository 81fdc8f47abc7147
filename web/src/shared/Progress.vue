<script setup lang="ts">
import { computed } from 'vue'

/** How far long work is, in whole hundredths; never said to be done before it is. */
const props = defineProps<{ done: number; of: number; label: string }>()
const share = computed(() =>
  props.of > 0 ? Math.floor((Math.min(props.done, props.of) / props.of) * 100) : 0,
)
</script>

<template>
  <el-progress :percentage="share" :aria-label="label" :stroke-width="8" class="far" />
</template>

<style scoped>
.far {
  width: 260px;
  max-width: 100%;
}
</style>
