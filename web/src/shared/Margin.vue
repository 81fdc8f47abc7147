<script setup lang="ts">
import { useLocalStorage, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { marginHolds } from './margin'
import WorkingView from './WorkingView.vue'
import { useSelected } from './workings'

/**
 * The narrow column of notes: the working of the selected figure, else what the page puts there. It is open when it
 * holds something, folded to a question mark when it would hold help alone, and stays as its reader left it.
 */
const props = defineProps<{ person: number }>()
const { key, working, select } = useSelected()
const kept = useLocalStorage<{ notes: boolean; help: boolean }>(
  () => `tallyman-margin-${props.person}`,
  { notes: true, help: false },
  { mergeDefaults: true },
)
// Where it would cover the sheet it comes only when it is asked for; on a phone it stands below the sheet.
const over = useMediaQuery('(max-width: 1100px)')
const below = useMediaQuery('(max-width: 700px)')
const called = ref(false)
const place = ref<HTMLElement | null>(null)
const kind = computed(() => (working.value || marginHolds.value ? 'notes' : 'help'))
const away = computed(() => !below.value && (over.value ? !called.value : !kept.value[kind.value]))
function fold() {
  if (over.value) called.value = !called.value
  else kept.value = { ...kept.value, [kind.value]: away.value }
}
watch(key, (now) => {
  if (now) called.value = true
  if (now && !over.value) kept.value = { ...kept.value, notes: true }
  if (now && below.value) void nextTick(() => place.value?.scrollIntoView({ block: 'start' }))
})
</script>

<template>
  <aside ref="place" :class="{ away }" aria-label="Margin">
    <el-button
      v-if="!below"
      class="fold quiet"
      :class="{ ask: away && kind === 'help' }"
      link
      :aria-expanded="!away"
      :aria-label="away && kind === 'help' ? 'Help on this page' : undefined"
      @click="fold"
      >{{ !away ? 'Put away ›' : kind === 'help' ? '?' : '‹ Notes' }}</el-button
    >
    <div v-show="!away" class="content">
      <section v-if="working" class="stack tight">
        <p class="spread">
          <span class="quiet">Working</span>
          <el-button link type="primary" @click="select(null)">Close</el-button>
        </p>
        <WorkingView :working="working" />
      </section>
      <div v-show="!working" id="margin-notes" class="stack"></div>
    </div>
  </aside>
</template>

<style scoped>
aside {
  position: relative;
  flex: 0 0 320px;
  background: var(--margin);
  border-left: 3px double var(--rule);
  padding: 34px 20px 40px;
  overflow-wrap: anywhere;
}
aside.away {
  flex-basis: 34px;
  padding: 24px 0 0;
}
.fold {
  position: absolute;
  right: 12px;
  top: 4px;
}
.away .fold {
  writing-mode: vertical-rl;
  right: 4px;
  top: 16px;
}
.away .fold.ask {
  writing-mode: horizontal-tb;
  right: 3px;
  width: 25px;
  height: 25px;
  font: 600 16px/25px var(--title-face);
  text-align: center;
  border: 1px solid var(--hair-2);
}
@media (max-width: 1100px) {
  aside {
    position: fixed;
    right: 0;
    top: 77px;
    bottom: 0;
    width: 320px;
    overflow: auto;
    z-index: 3;
  }
  aside.away {
    width: 34px;
  }
}
@media (max-width: 700px) {
  aside {
    position: static;
    flex-basis: auto;
    width: auto;
    border-left: 0;
    border-top: 3px double var(--rule);
    padding: 16px 14px 40px;
  }
}
</style>
