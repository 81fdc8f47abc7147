<script setup lang="ts">
import { useLocalStorage, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import WorkingView from './WorkingView.vue'
import { useSelected } from './workings'

/** The narrow column of notes: the working of the selected figure, else what the page puts there. */
const { key, working, select } = useSelected()
const putAway = useLocalStorage('tallyman-margin-away', false)
// Where it would cover the sheet it comes only when it is asked for; on a phone it stands below the sheet.
const over = useMediaQuery('(max-width: 1100px)')
const below = useMediaQuery('(max-width: 700px)')
const called = ref(false)
const place = ref<HTMLElement | null>(null)
const away = computed(() => !below.value && (over.value ? !called.value : putAway.value))
function fold() {
  if (over.value) called.value = !called.value
  else putAway.value = !putAway.value
}
watch(key, (now) => {
  if (now) called.value = true
  if (now && !over.value) putAway.value = false
  if (now && below.value) void nextTick(() => place.value?.scrollIntoView({ block: 'start' }))
})
</script>

<template>
  <aside ref="place" :class="{ away }" aria-label="Margin">
    <el-button v-if="!below" class="fold" :aria-expanded="!away" link type="primary" @click="fold"
      >{{ away ? '‹ Margin' : 'Put away ›' }}
    </el-button>
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
  font-weight: 400;
  font-size: 12.5px;
  color: var(--ink-2);
}
.away .fold {
  writing-mode: vertical-rl;
  right: 4px;
  top: 16px;
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
