<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** The runs that belong to one: before it, after it, started together with it; and where its end is told. */
defineProps<{ run: Pick<Schemas['RunWhole'], 'again_of' | 'tried_again_as' | 'group_id' | 'call_back'> }>()
</script>

<template>
  <p v-if="run.again_of || run.tried_again_as || run.group_id || run.call_back">
    <template v-if="run.group_id"
      >It was <router-link :to="`/runs/groups/${run.group_id}`">started together with others</router-link>.
    </template>
    <template v-if="run.again_of"
      >It takes up <router-link :to="`/runs/${run.again_of}`">R-{{ run.again_of }}</router-link> once more.
    </template>
    <template v-if="run.tried_again_as"
      >Started again as
      <router-link :to="`/runs/${run.tried_again_as}`">R-{{ run.tried_again_as }}</router-link
      >.</template
    >
    <template v-if="run.call_back">
      {{ run.call_back.state === 'sent' ? 'Its end was told at' : `Its end is told at` }}
      {{ run.call_back.address }}<template v-if="run.call_back.words">: {{ run.call_back.words }}</template
      >.
    </template>
  </p>
</template>
