<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useMe } from './session'
import { endsOf, ticksOf, type AxisRow } from './timeAxis'

/** Rows of bars over one axis of time, in the reader's zone; what each bar says stands in it or beside it. */
const props = defineProps<{
  rows: readonly AxisRow[]
  label: string
  /** Marked by a line. */ now?: string
}>()
const { me } = useMe()
const zone = computed(() => me.value?.zone ?? 'UTC')
const drawn = computed(() =>
  props.rows.map((row) => ({
    name: row.name,
    bars: row.bars.map((bar) => ({ ...bar, ends: endsOf(bar, zone.value) })),
  })),
)
const ends = computed(() => drawn.value.flatMap((row) => row.bars.flatMap((bar) => bar.ends)))
const from = computed(() => Math.min(...ends.value))
const to = computed(() => Math.max(...ends.value))
const place = (at: number): number => (100 * (at - from.value)) / Math.max(1, to.value - from.value)
const track = ref<HTMLElement | null>(null)
const { width } = useElementSize(track)
const ROOM = 62
/** As many marks as there is room for their words. */
const ticks = computed(() => {
  if (!ends.value.length) return []
  const all = ticksOf(from.value, to.value, zone.value)
  const each = Math.max(1, Math.ceil((all.length * ROOM) / Math.max(ROOM, width.value)))
  return all.filter((_, n) => n % each === 0 && place(all[n]!.at) < 96)
})
const now = computed(() => (props.now ? place(Date.parse(props.now)) : -1))
</script>

<template>
  <div v-if="ends.length" class="axis" role="table" :aria-label="label">
    <div v-for="row in drawn" :key="row.name" class="line" role="row">
      <span class="name" role="rowheader">{{ row.name }}</span>
      <span class="track" role="cell">
        <span v-for="tick in ticks" :key="tick.at" class="tick" :style="{ left: `${place(tick.at)}%` }" />
        <span v-if="now > 0 && now < 100" class="now" :style="{ left: `${now}%` }" />
        <span
          v-for="bar in row.bars"
          :key="bar.from + bar.words"
          class="bar"
          :class="{ behind: bar.behind }"
          :style="{
            left: `${place(bar.ends[0])}%`,
            width: `${Math.max(0.4, place(bar.ends[1]) - place(bar.ends[0]))}%`,
          }"
          :title="bar.words"
          ><span class="unseen">{{ bar.words }}</span></span
        >
      </span>
    </div>
    <div class="line" aria-hidden="true">
      <span class="name" />
      <span ref="track" class="track words">
        <span v-for="tick in ticks" :key="tick.at" :style="{ left: `${place(tick.at)}%` }">{{
          tick.words
        }}</span>
      </span>
    </div>
    <p v-if="now > 0 && now < 100" class="quiet">The dashed line is now.</p>
  </div>
</template>

<style scoped>
.axis {
  font-size: 13px;
}
.line {
  display: grid;
  grid-template-columns: minmax(84px, 150px) 1fr;
  gap: 10px;
}
.name {
  line-height: 26px;
  overflow-wrap: anywhere;
}
.track {
  position: relative;
  min-height: 26px;
  border-bottom: 1px solid var(--hair);
}
.track.words {
  border: 0;
  min-height: 20px;
  color: var(--ink-2);
  font-size: 12px;
}
.words span {
  position: absolute;
  padding-left: 3px;
  white-space: nowrap;
}
.tick,
.now {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--hair);
}
.now {
  border-left: 1px dashed var(--ink);
}
.bar {
  position: absolute;
  top: 5px;
  height: 12px;
  background: var(--act);
}
.bar.behind {
  top: 18px;
  height: 4px;
  background: var(--ink-2);
}
</style>
