import type { EChartsCoreOption } from 'echarts/core'

/** One picture: its table (the first column is the x axis), and how each further column is drawn. */
export interface Picture {
  title: string
  columns: string[]
  rows: (string | number | null)[][]
  kind: 'line' | 'bars' | 'stack' | 'field'
  unit: string
  /** Whether its values are counts, so that no line stands between two of them. */
  whole?: boolean
  xUnit?: string
  marks?: { at: number; words: string }[]
}

/** The releases that a routine had, at the places of a picture's rows; those of one place stand together. */
export function releaseMarks(
  releases: readonly { version: string; since: string }[],
  place: (since: string) => number,
): { at: number; words: string }[] {
  const found = new Map<number, string[]>()
  for (const one of releases) {
    const at = place(one.since)
    if (at >= 0) found.set(at, [...(found.get(at) ?? []), one.version])
  }
  return [...found].map(([at, versions]) => ({ at, words: versions.join(', ') }))
}

type Style = Pick<CSSStyleDeclaration, 'getPropertyValue'>

/** The picture as the drawing library wants it, in the colours of the theme. */
export function drawing(picture: Picture, style: Style): EChartsCoreOption {
  const colour = (name: string): string => style.getPropertyValue(name).trim()
  const text = { color: colour('--ink-2'), fontFamily: 'Source Sans 3 Variable, sans-serif', fontSize: 12 }
  const line = { lineStyle: { color: colour('--hair') } }
  const tones = [colour('--act'), colour('--hair-2'), colour('--rule')]
  const base = {
    animation: false,
    textStyle: text,
    color: tones,
    grid: {
      left: 8,
      right: 24,
      top: 28 + 16 * (picture.marks?.length ?? 0),
      bottom: picture.xUnit ? 26 : 4,
      containLabel: true,
    },
    tooltip: { trigger: picture.kind === 'field' ? 'item' : 'axis', confine: true },
  }
  const yAxis = {
    type: 'value',
    // A field names both axes; other pictures carry the unit in their title.
    name: picture.kind === 'field' ? picture.unit : undefined,
    nameTextStyle: { ...text, align: 'left' },
    axisLabel: text,
    splitLine: line,
    minInterval: picture.whole ? 1 : undefined,
  }
  if (picture.kind === 'field') return { ...base, ...field(picture, text, line), yAxis }
  const marks = {
    symbol: 'none',
    silent: true,
    label: { formatter: '{b}', align: 'left', ...text },
    lineStyle: { color: colour('--rule'), type: 'dashed' },
    // Each label stands a line higher than the one before, so that near marks do not cover each other.
    data: (picture.marks ?? []).map((mark, n) => ({
      name: mark.words,
      xAxis: mark.at,
      label: { distance: 4 + 15 * n },
    })),
  }
  const bars = picture.kind === 'bars' || picture.kind === 'stack'
  return {
    ...base,
    legend:
      picture.columns.length > 2
        ? { top: 0, right: 0, icon: 'rect', itemHeight: 8, textStyle: text }
        : undefined,
    xAxis: {
      type: bars ? 'category' : 'value',
      data: bars ? picture.rows.map((row) => String(row[0])) : undefined,
      min: bars ? undefined : 'dataMin',
      max: bars ? undefined : 'dataMax',
      name: picture.xUnit,
      nameLocation: 'middle',
      nameGap: 26,
      axisLabel: text,
      axisLine: { lineStyle: { color: colour('--ink-2') } },
      splitLine: { show: false },
    },
    yAxis,
    series: picture.columns.slice(1).map((name, n) => ({
      name,
      type: bars ? 'bar' : 'line',
      stack: picture.kind === 'stack' ? 'whole' : undefined,
      showSymbol: false,
      barGap: '10%',
      data: picture.rows.map((row) => (bars ? row[n + 1] : [row[0], row[n + 1]])),
      markLine: n === 0 ? marks : undefined,
    })),
  }
}

function field(picture: Picture, text: object, line: object): EChartsCoreOption {
  return {
    xAxis: {
      type: 'value',
      name: picture.xUnit,
      nameLocation: 'middle',
      nameGap: 26,
      axisLabel: text,
      splitLine: line,
    },
    tooltip: { formatter: (one: { name: string }) => one.name },
    series: [
      {
        type: 'scatter',
        symbol: 'diamond',
        symbolSize: 11,
        data: picture.rows.map((row) => ({ name: String(row[0]), value: [row[1], row[2]] })),
        label: {
          show: true,
          position: 'right',
          formatter: (one: { name: string }) => one.name.split(' ')[0],
          ...text,
        },
        labelLayout: { hideOverlap: true },
      },
    ],
  }
}
