import { Group, NativeSelect, Table, Text } from '@mantine/core'
import { useMemo } from 'react'
import { measurePage, widthLadder, type LedgerEntry, type ResolvedPage, type ViewportChoice } from 'wembra'

interface Props {
  readonly page: ResolvedPage
  readonly at: ViewportChoice
  readonly box: string | undefined
  readonly onBox: (id: string | undefined) => void
}

/** How a box gets its place: every step down the page, with its px. */
export function Ledger({ page, at, box: chosen, onBox }: Props) {
  const measure = useMemo(() => measurePage(page, at), [page, at])
  const box = chosen === undefined ? undefined : measure.box(chosen)
  return (
    <details className="ledger" open={chosen !== undefined}>
      <summary>Why a box is where it is</summary>
      <Group my="xs">
        <NativeSelect
          label="Box"
          size="xs"
          value={box?.id ?? ''}
          onChange={(event) => onBox(event.currentTarget.value || undefined)}
          data={[{ value: '', label: 'choose one, or click it' }, ...measure.boxes.map(({ id }) => id)]}
        />
      </Group>
      {box && (
        <Group align="flex-start" gap="xl">
          <Steps
            label={`Ledger of ${box.id}`}
            steps={box.ledger.filter(({ px }) => px !== 0)}
            sum={box.y}
            what={`y of ${box.id}, at ${measure.viewport.width} px`}
          />
          <Steps
            label={`Width of ${box.id}`}
            steps={widthLadder(measure, box.id)}
            sum={box.width}
            what={`width of ${box.id}`}
          />
        </Group>
      )}
      {chosen !== undefined && !box && <Text size="sm">{chosen} has no box at this width.</Text>}
    </details>
  )
}

/** Steps that add up to a number, each with its px. */
function Steps({
  label,
  steps,
  sum,
  what,
}: {
  readonly label: string
  readonly steps: readonly LedgerEntry[]
  readonly sum: number
  readonly what: string
}) {
  return (
    <Table w="auto" verticalSpacing={3} aria-label={label}>
      <Table.Tbody>
        {steps.map((step, n) => (
          <Table.Tr key={n}>
            <Table.Td ta="right">{inPx(step.px)}</Table.Td>
            <Table.Td>{step.because}</Table.Td>
          </Table.Tr>
        ))}
        <Table.Tr>
          <Table.Th ta="right">{inPx(sum)}</Table.Th>
          <Table.Th>{what}</Table.Th>
        </Table.Tr>
      </Table.Tbody>
    </Table>
  )
}

const inPx = (px: number): string => String(Math.round(px * 10) / 10).replace('-', '−')
