<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'

/** The first steps of a new installation; they go away by themselves once all are done. */
defineProps<{ steps: Schemas['FirstStep'][] }>()
</script>

<template>
  <section>
    <h2>First steps</h2>
    <table class="ledger">
      <tbody>
        <tr v-for="(step, n) in steps" :key="step.title">
          <td style="width: 96px">
            <Glyph :state="step.done ? 'done' : 'waiting'" :word="step.done ? 'done' : `step ${n + 1}`" />
          </td>
          <td>
            <router-link class="whole" :to="step.link">{{ step.title }}</router-link>
            <div class="quiet">{{ step.words }}</div>
          </td>
          <td class="num">{{ step.fact }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
