import { Group, NativeSelect, Table, Text } from '@mantine/core'
import { useMemo } from 'react'
import { measurePage, type ResolvedPage, type ViewportChoice } from 'wembra'

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
        <Table w="auto" verticalSpacing={3} aria-label={`Ledger of ${box.id}`}>
          <Table.Tbody>
            {box.ledger
              .filter((step) => step.px !== 0)
              .map((step, n) => (
                <Table.Tr key={n}>
                  <Table.Td ta="right">{Math.round(step.px * 10) / 10}</Table.Td>
                  <Table.Td>{step.because}</Table.Td>
                </Table.Tr>
              ))}
            <Table.Tr>
              <Table.Th ta="right">{Math.round(box.y * 10) / 10}</Table.Th>
              <Table.Th>
                y of {box.id}, at {measure.viewport.width} px
              </Table.Th>
            </Table.Tr>
          </Table.Tbody>
        </Table>
      )}
      {chosen !== undefined && !box && <Text size="sm">{chosen} has no box at this width.</Text>}
    </details>
  )
}
