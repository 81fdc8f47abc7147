<script setup lang="ts">
import When from '@/shared/When.vue'
import type { CodeShown } from '@/shared/code'

/** A host's one-time code, shown once, in the line that is typed on the host. */
defineProps<{ code: CodeShown; own?: boolean }>()
const emit = defineEmits<{ leave: [] }>()
const server = location.origin
</script>

<template>
  <section class="note stack tight" role="status">
    <p>
      One-time code for <b>{{ code.host }}</b>, good until <When :at="code.until" />. It is shown only now.
      {{ own ? 'On this computer, as yourself, run' : 'On the host, as root, run' }}
    </p>
    <pre class="code">
./tallyman runner --server {{ server }} --code {{ code.code }}{{ own ? ' --as-myself' : '' }}</pre>
    <p v-if="own" class="quiet">
      Packages then work as you, with what you may open. How it is, and why it may not be connected, says
      <code>./tallyman runner --status</code>.
    </p>
    <p v-else class="quiet">
      Started as root, the runner gives each robot an account of its own; otherwise it says what it cannot do.
      With <code>--install</code> behind it, it becomes a service that starts with the computer. How it is,
      and why it may not be connected, says <code>./tallyman runner --status</code> there, and the page that
      it names.
    </p>
    <p><el-button @click="emit('leave')">I have it</el-button></p>
  </section>
</template>

<style scoped>
.code {
  margin: 0;
  padding: 8px 10px;
  background: var(--margin);
  overflow-x: auto;
}
</style>
