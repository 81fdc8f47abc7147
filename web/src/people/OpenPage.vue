<script setup lang="ts">
import Mark from '@/shared/Mark.vue'
</script>

<template>
  <!-- The sheet of a page that is open to people who are not signed in. -->
  <main>
    <p class="name"><Mark /> Tallyman</p>
    <slot />
  </main>
</template>

<style scoped>
main {
  max-width: 440px;
  margin: 12vh auto 0;
  background: var(--sheet);
  border-left: 3px double var(--rule);
  padding: 28px 32px;
  display: grid;
  gap: 16px;
}
.name {
  font: 600 21px/28px var(--title-face);
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--ink-2);
}
</style>
