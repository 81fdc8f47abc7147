<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** What a figure still needs: the first inputs by name, each a way to its field. */
defineProps<{ needs: Schemas['Lack'][] }>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
</script>

<template>
  <span v-if="needs.length" class="care">
    needs
    <template v-for="(lack, n) in needs.slice(0, 2)" :key="lack.field"
      ><template v-if="n">, </template
      ><el-button link type="primary" @click="emit('supply', lack.sheet, lack.field)"
        >{{ lack.label }}
      </el-button></template
    >
    <template v-if="needs.length > 2"> and {{ needs.length - 2 }} more</template>
  </span>
</template>

<style scoped>
span {
  display: block;
  max-width: 180px;
}
button {
  font-size: 12.5px;
  white-space: normal;
  text-align: left;
}
</style>
