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
  <table class="ledger stacks" :aria-label="name">
    <tbody>
      <tr v-for="one in shown" :key="`${one.thing.kind} ${one.thing.key}`">
        <td style="width: 120px" class="quiet">{{ kindSaid(one.thing.kind) }}</td>
        <td :style="{ paddingLeft: `${(one.depth - 1) * 18}px` }">
          <router-link :to="one.thing.link">{{ one.thing.name }}</router-link>
          <div class="quiet">
            <template v-if="upward">it {{ one.how }} this</template>
            <template v-else
              >{{ one.how }} {{ one.by_way_of?.name ?? 'something that you may not see' }}</template
            >
          </div>
        </td>
        <td class="num">
          <router-link
            v-if="usesOf(one.thing)"
            :to="usesOf(one.thing)"
            :aria-label="`What hangs on ${one.thing.name}`"
            >what hangs on it</router-link
          >
        </td>
      </tr>
    </tbody>
  </table>
  <p v-if="rows.length > shown.length">
    <el-button link type="primary" @click="all = true"
      >Show all {{ several(rows.length, 'thing', 'things') }}</el-button
    >
  </p>
</template>
