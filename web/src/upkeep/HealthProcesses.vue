<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import When from '@/shared/When.vue'
import { apart } from './clock'

/** The processes of this installation: what each does, and whether its clock is right. */
defineProps<{ processes: Schemas['Health']['processes'] }>()
</script>

<template>
  <section>
    <h2>Processes</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th style="width: 110px">State</th>
          <th>Process</th>
          <th>Loops: last turn, behind</th>
          <th class="num">Clock, s</th>
          <th class="num">Heard</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in processes" :key="`${one.machine}-${one.pid}`">
          <td>
            <Glyph
              :state="one.silent ? 'silent' : one.well ? 'heard' : 'unmet'"
              :word="one.silent ? 'silent' : one.well ? 'well' : 'ill'"
            />
          </td>
          <td>
            {{ one.kind }} {{ one.pid }}
            <div class="quiet">{{ one.machine }}, {{ one.version }}, since <When :at="one.started_at" /></div>
          </td>
          <td>
            <div v-if="one.says" class="bad wrap">{{ one.says }}</div>
            <span class="quiet">
              <template v-for="(loop, name, n) in one.loops" :key="name"
                ><template v-if="n">; </template>{{ name }} {{ loop.took_ms }} ms<template
                  v-if="loop.late_ms > 500"
                  >, {{ loop.late_ms }} ms behind</template
                ></template
              >
            </span>
          </td>
          <td class="num">{{ apart(one.apart_ms) }}</td>
          <td class="num"><When :at="one.seen_at" near /></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.wrap {
  overflow-wrap: anywhere;
  white-space: normal;
}
</style>
