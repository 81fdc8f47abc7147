<script setup lang="ts">
import { defineAsyncComponent, ref, watch, watchEffect } from 'vue'
import { listenForKeys } from '@/shared/keys'
import Margin from '@/shared/Margin.vue'
import { useMe } from '@/shared/session'
import { draftsOf, dropOldDrafts } from '@/shared/unsaved'
import Band from './Band.vue'
import { useFocusOnSheet, useHeading } from './heading'
import { useLive } from './live'
import { useReachableTables } from './scrolling'

// The page stands before the parts that are called later were read.
const KeyHelp = defineAsyncComponent(() => import('./KeyHelp.vue'))
const UndoBar = defineAsyncComponent(() => import('./UndoBar.vue'))
const Leaving = defineAsyncComponent(() => import('./Leaving.vue'))
const FactorPage = defineAsyncComponent(() => import('@/people/FactorPage.vue'))
const { me } = useMe()
useLive()
listenForKeys()
// Whose drafts these are is known before any page of theirs stands.
watch(
  () => me.value?.id,
  (id) => id !== undefined && draftsOf(id),
  { immediate: true, flush: 'sync' },
)
dropOldDrafts(new Date())

// Kept until the recovery codes were seen, which is later than the factor is on.
const missing = ref<string[]>([])
watchEffect(() => {
  if (me.value?.factor_for.length && !me.value.seen_by) missing.value = me.value.factor_for
})
const sheet = ref<HTMLElement | null>(null)
useHeading(sheet)
useFocusOnSheet(sheet)
useReachableTables(sheet)
</script>

<template>
  <a class="skip" href="#sheet">Skip to the sheet</a>
  <Band />
  <div class="page">
    <main id="sheet" ref="sheet" tabindex="-1">
      <FactorPage v-if="missing.length" :roles="missing" @done="missing = []" />
      <router-view v-else-if="me" :key="$route.path" />
    </main>
    <Margin v-if="me" :person="me.id" />
  </div>
  <Leaving />
  <KeyHelp />
  <UndoBar />
</template>

<style scoped>
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  background: var(--sheet);
  padding: 4px 8px;
  z-index: 5;
}
.page {
  max-width: 1512px;
  margin: 0 auto;
  display: flex;
  min-height: calc(100vh - 77px);
}
main {
  flex: 1;
  min-width: 0;
  background: var(--sheet);
  padding: 24px 28px 48px;
}
main:focus {
  outline: none;
}
@media (max-width: 1100px) {
  main {
    padding-right: 52px;
  }
}
@media (max-width: 700px) {
  .page {
    flex-direction: column;
  }
  main {
    flex: 0 1 auto;
    padding: 16px 14px 28px;
  }
}
</style>
