<script setup lang="ts">
import { ref } from 'vue'
import { keysHere, useKeys } from '@/shared/keys'

/** The keys of the page that is open, by the key that asks for them. */
const open = ref(false)
useKeys([{ key: '?', words: 'Show the keys of this page', act: () => (open.value = true) }])
</script>

<template>
  <el-dialog v-model="open" title="Keys of this page" width="460px" append-to-body>
    <table class="ledger" aria-label="Keys">
      <tbody>
        <tr v-for="one in keysHere" :key="one.key + one.words">
          <td style="width: 60px">
            <kbd>{{ one.key }}</kbd>
          </td>
          <td>{{ one.words }}<span v-if="one.when && !one.when()" class="quiet">, not just now</span></td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">They act while nothing is being typed. Tab goes on, Shift and Tab back, Enter acts.</p>
  </el-dialog>
</template>
