<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import Fold from '@/shared/Fold.vue'
import { several } from '@/shared/format'
import When from '@/shared/When.vue'
import TriggerHistory from './TriggerHistory.vue'

/** Starts that ended: what each was, and what it did. */
defineProps<{ routine: number; ended: Schemas['EndedTrigger'][] }>()
const told = ref<number | null>(null)
</script>

<template>
  <Fold
    :words="`${several(ended.length, 'start that ended', 'starts that ended')}${
      ended.length === 50 ? ', the last of them' : ''
    }`"
  >
    <table class="ledger">
      <tbody>
        <template v-for="one in ended" :key="one.id">
          <tr>
            <td>
              {{ one.sentence }}
              <div class="quiet">
                ended <When :at="one.ended_at" />; it started {{ several(one.started, 'run', 'runs')
                }}<template v-if="one.last_at">, the last <When :at="one.last_at" /></template>
              </div>
            </td>
            <td class="num">
              <el-button
                :aria-expanded="told === one.id"
                link
                type="primary"
                @click="told = told === one.id ? null : one.id"
                >What became of it</el-button
              >
            </td>
          </tr>
          <tr v-if="told === one.id">
            <td colspan="2"><TriggerHistory :routine="routine" :trigger="one.id" /></td>
          </tr>
        </template>
      </tbody>
    </table>
  </Fold>
</template>
