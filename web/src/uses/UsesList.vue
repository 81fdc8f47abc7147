<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import { kindSaid, usesOf } from './drawing'

/** Things in their order, each with how it hangs on what; the first of them, and the rest when they are asked for. */
const props = defineProps<{ name: string; rows: Schemas['UsedBy'][]; upward?: boolean }>()
const FIRST = 40
const all = ref(false)
const shown = computed(() => (all.value ? props.rows : props.rows.slice(0, FIRST)))
</script>

<template>
  <ul :aria-label="name">
    <li v-for="one in shown" :key="`${one.thing.kind} ${one.thing.key}`">
      <span class="quiet">{{ kindSaid(one.thing.kind) }}</span>
      <div class="thing" :style="{ '--depth': one.depth - 1 }">
        <router-link :to="one.thing.link">{{ one.thing.name }}</router-link>
        <div class="quiet">
          <template v-if="upward">it {{ one.how }} this</template>
          <template v-else
            >{{ one.how }} {{ one.by_way_of?.name ?? 'something that you may not see' }}</template
          >
        </div>
      </div>
      <router-link
        v-if="usesOf(one.thing)"
        :to="usesOf(one.thing)"
        :aria-label="`what hangs on it: ${one.thing.name}`"
        >what hangs on it</router-link
      >
    </li>
  </ul>
  <p v-if="rows.length > shown.length">
    <el-button link type="primary" @click="all = true"
      >Show all {{ several(rows.length, 'thing', 'things') }}</el-button
    >
  </p>
</template>

<style scoped>
ul {
  margin: 12px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr) auto;
  gap: 2px 12px;
  padding: 7px 0;
  border-bottom: 1px solid var(--hair);
}
.thing {
  padding-left: calc(var(--depth) * 18px);
}
@media (max-width: 700px) {
  li {
    grid-template-columns: minmax(0, 1fr);
  }
  .thing {
    padding-left: calc(var(--depth) * 10px);
  }
  a {
    display: flex;
    align-items: center;
    min-height: 40px;
  }
}
</style>
