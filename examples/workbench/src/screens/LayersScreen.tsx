import { Group, SegmentedControl, Stack, Title } from '@mantine/core'
import { replaceParams } from '../session/use-route.ts'
import { Assignment } from './layers/Assignment.tsx'
import { Content } from './layers/Content.tsx'
import type { LayerProps } from './layers/layer-props.ts'
import { Overrides } from './layers/Overrides.tsx'
import { SharedThings } from './layers/SharedThings.tsx'
import { ThemeLayer } from './layers/ThemeLayer.tsx'

/** The steps in which a site is set up; each has its screen. */
const LAYERS = [
  ['theme', 'Theme'],
  ['surrounds', 'Surrounds'],
  ['templates', 'Templates'],
  ['assignment', 'Assignment'],
  ['overrides', 'Page overrides'],
  ['content', 'Content'],
] as const
type Layer = (typeof LAYERS)[number][0]

/** Every layer that settings come from, in the order of the work: what it sets, and which pages it reaches. */
export function LayersScreen(props: LayerProps) {
  const { params } = props
  const layer = LAYERS.find(([id]) => id === params.get('step'))?.[0] ?? 'theme'
  return (
    <Stack gap="md">
      <Group justify="space-between">
        <Title order={2}>Layers</Title>
        <SegmentedControl
          aria-label="Layer"
          data={LAYERS.map(([value, label], n) => ({ value, label: `${n + 1} ${label}` }))}
          value={layer}
          onChange={(step) => replaceParams({ step, open: undefined, setting: undefined })}
          className="layer-tabs"
        />
      </Group>
      <Layers layer={layer} {...props} />
    </Stack>
  )
}

function Layers({ layer, ...props }: LayerProps & { readonly layer: Layer }) {
  switch (layer) {
    case 'theme':
      return <ThemeLayer {...props} />
    case 'surrounds':
    case 'templates':
      return <SharedThings key={layer} kind={layer} {...props} />
    case 'assignment':
      return <Assignment {...props} />
    case 'overrides':
      return <Overrides {...props} />
    case 'content':
      return <Content {...props} />
  }
}
