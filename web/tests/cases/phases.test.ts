import { describe, expect, it } from 'vitest'
import PhaseDays from '@/cases/PhaseDays.vue'
import { followed, following, type Phase } from '@/cases/phases'
import NumberField from '@/shared/NumberField.vue'
import { onPage } from '../within'

const phase = (person_days: string | null, days: Phase['days']): Phase => ({
  name: 'Build',
  person_days,
  day_rate: '560',
  days,
  lag: 0,
})

describe('the working days of a phase', () => {
  it('follow its person-days, up to the next whole one', () => {
    expect(followed(phase('2.5', null))).toBe(3)
    expect(followed(phase(null, null))).toBe(0)
    expect(following(phase('10', '10')).days).toBeNull()
    expect(following(phase('10', 12)).days).toBe(12)
  })

  it('say that they follow, and by how much', async () => {
    const { wrapper } = await onPage(PhaseDays, { phase: phase('2.5', null), modelValue: null })
    expect(wrapper.text()).toContain('follow the person-days')
    expect(wrapper.find('input').attributes('placeholder')).toBe('3')
    wrapper.findComponent(NumberField).vm.$emit('update:modelValue', '7')
    expect(wrapper.emitted('update:modelValue')).toEqual([['7']])
  })

  it('that were set apart are let follow again', async () => {
    const { wrapper } = await onPage(PhaseDays, { phase: phase('2.5', '9'), modelValue: '9' })
    expect(wrapper.text()).toContain('set apart')
    await wrapper.find('button').trigger('click')
    expect(wrapper.emitted('update:modelValue')).toEqual([[null]])
    expect(wrapper.emitted('keep')).toHaveLength(1)
  })
})
