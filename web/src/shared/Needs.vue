<script setup lang="ts">
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import Glyph from './Glyph.vue'
import When from './When.vue'

/**
 * Needs, each met or not, with the fact, since when it is lacking, and what mends it. Where a page can do what
 * mends it, it puts that into the slot, by the need's act.
 */
defineProps<{ needs: Schemas['Need'][] }>()
defineSlots<{ act?: (props: { need: Schemas['Need'] }) => unknown }>()
</script>

<template>
  <ul class="needs">
    <li v-for="need in needs" :key="need.key" :class="{ unmet: !need.met }" :data-need="need.key">
      <Glyph :state="need.met ? 'met' : 'unmet'" :word="need.met ? 'met' : 'not met'" bare />
      <div class="grow">
        <span class="words">{{ need.words }}</span>
        <div class="quiet">
          <router-link v-if="need.met && need.link" :to="need.link">{{ need.fact }}</router-link><template
            v-else
            >{{ need.fact }}</template
          ><template v-if="!need.met && need.since">, since <When :at="need.since" near /></template>
        </div>
        <div v-if="!need.met && need.mend" class="mend">
          <el-button v-if="need.link" :tag="RouterLink" :to="need.link" size="small">{{
            need.mend
          }}</el-button>
          <template v-else>{{ need.mend }}</template>
        </div>
      </div>
      <slot name="act" :need="need" />
    </li>
  </ul>
</template>

<style scoped>
.needs {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 4px 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
}
.grow {
  flex: 1 1 220px;
}
.mend {
  margin-top: 3px;
}
.unmet .words {
  font-weight: 600;
}
</style>
