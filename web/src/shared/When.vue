<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { writtenAs } from './format'
import { computed } from 'vue'
import { useMe } from '@/shared/session'
import { away } from './format'

const props = defineProps<{ at: string | null | undefined; clock?: boolean; day?: boolean; near?: boolean }>()
const { zone } = useMe()
const now = useNow({ interval: 5_000 })

const date = computed(() => (props.at ? new Date(props.at) : null))
const plainDay = computed(() => (props.at ?? '').length === 10)

function write(options: Intl.DateTimeFormatOptions): string {
  const timeZone = plainDay.value ? 'UTC' : zone.value
  return date.value ? new Intl.DateTimeFormat(writtenAs(), { timeZone, ...options }).format(date.value) : '–'
}

const text = computed(() => {
  if (!date.value) return '–'
  if (props.near) return away(date.value, now.value)
  if (props.clock) return write({ hour: '2-digit', minute: '2-digit', second: '2-digit' })
  const sameYear = date.value.getFullYear() === now.value.getFullYear()
  const day = write({ day: 'numeric', month: 'short', ...(sameYear ? {} : { year: 'numeric' }) })
  if (props.day || plainDay.value) return day
  const time = write({ hour: '2-digit', minute: '2-digit' })
  const options: Intl.DateTimeFormatOptions = { timeZone: zone.value, dateStyle: 'short' }
  const today = new Intl.DateTimeFormat(writtenAs(), options).format(now.value)
  return new Intl.DateTimeFormat(writtenAs(), options).format(date.value) === today ? time : `${day}, ${time}`
})
const exact = computed(() =>
  plainDay.value
    ? write({ weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })
    : `${write({ dateStyle: 'full', timeStyle: 'medium' })} (${zone.value})`,
)
</script>

<template>
  <time :datetime="at ?? undefined" :title="exact">{{ text }}</time>
</template>
