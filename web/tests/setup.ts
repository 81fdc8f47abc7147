import { beforeEach } from 'vitest'
import { writeAs } from '@/shared/format'

beforeEach(() => writeAs('en-GB'))
