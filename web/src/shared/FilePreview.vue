<script setup lang="ts">
import { computed, onScopeDispose, ref, watch } from 'vue'
import { size } from './format'

/**
 * A file, chosen or handed over: its name and size (not where it is `bare`), and what is in it where that can be shown.
 */
const props = defineProps<{ file: File; bare?: boolean }>()
const LINES = 8
const LONGEST = 160
// As much of a text as its first lines need.
const READ = 4000
const TEXT = /\.(txt|csv|tsv|md|json|toml|xml|ics|log)$/i
const picture = computed(() => /^image\/(png|jpeg|gif|webp)$/.test(props.file.type))
const address = ref('')
const text = ref('')
// That not the whole of it stands here.
const more = ref(false)
const give = () => address.value && URL.revokeObjectURL(address.value)
watch(
  () => props.file,
  async (file) => {
    give()
    address.value = picture.value ? URL.createObjectURL(file) : ''
    text.value = ''
    if (!TEXT.test(file.name)) return
    const read = await file.slice(0, READ).text()
    // Another may have been chosen meanwhile.
    if (file !== props.file) return
    const lines = read.trimEnd().split(/\r?\n/)
    more.value = lines.length > LINES || file.size > READ || lines.some((line) => line.length > LONGEST)
    text.value = lines
      .slice(0, LINES)
      .map((line) => line.slice(0, LONGEST))
      .join('\n')
  },
  { immediate: true },
)
onScopeDispose(give)
</script>

<template>
  <figure class="stack tight">
    <figcaption v-if="!bare" class="quiet">{{ file.name }}, {{ size(file.size) }}</figcaption>
    <img v-if="address" :src="address" :alt="file.name" />
    <pre v-else-if="text">{{ text }}</pre>
    <p v-if="text && more" class="quiet">Its beginning; take the file for the whole of it.</p>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
img {
  max-width: 320px;
  max-height: 200px;
  border: 1px solid var(--hair);
}
pre {
  margin: 0;
  max-width: 100%;
  overflow-x: auto;
  border-left: 3px double var(--rule);
  padding-left: 10px;
  font-size: 12px;
}
</style>
