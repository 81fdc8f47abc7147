<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import Fold from '@/shared/Fold.vue'
import { span } from '@/shared/format'
import When from '@/shared/When.vue'

/** A run that gives no sign: since when, what it may have, and what usually helps. */
defineProps<{ stalled: Schemas['Stalled']; cancel: boolean }>()
</script>

<template>
  <div class="note care stack tight" role="status" data-stalled>
    <p>
      <b>Stalled</b> since <When :at="stalled.since" />: it reports nothing and uses no processor.
      <Figure name="stalled-after" :text="span(stalled.bound_seconds)" :working="stalled.working" />
      of that is what its routine may have.
    </p>
    <Fold words="What usually helps" open>
      <ul>
        <li>
          A window waits for an answer: a message, an update, a sign-in. Look at the screen of its host.
        </li>
        <li>A system that it works with does not answer: see whether people get through to it.</li>
        <li>A file or a lock is held by somebody: the last line of the log says what it was about to do.</li>
        <li v-if="cancel">
          Nothing moves: cancel it above. It is asked to end, has 30 seconds, and can be started again.
        </li>
        <li>
          It is as slow as that at times: then its next good runs teach the bound, and it is called so later.
        </li>
      </ul>
    </Fold>
  </div>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
