<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { money, number, several } from '@/shared/format'
import { useMe } from '@/shared/session'

/** What runs on people's own computers came to, counted apart. */
defineProps<{ attended: Schemas['AttendedSum'] }>()
const { currency } = useMe()
</script>

<template>
  <p data-attended>
    Of it, {{ several(attended.runs, 'run', 'runs') }} on people's own computers:
    <Figure
      name="attended-hours"
      :working="attended.hours_working"
      :text="`${number(attended.hours, 1)} h`"
    />,
    <Figure
      name="attended-money"
      :working="attended.money_working"
      :text="money(attended.money, currency)"
    />, less the time that they had to be there.
  </p>
</template>
