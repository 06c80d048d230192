import { Alert, Anchor, Button, Group, Table, Text } from '@mantine/core'
import { useEffect, useState } from 'react'
import type { LivePage } from 'wembra/node'
import { lookLive } from '../session/server.ts'
import { Busy } from './Busy.tsx'
import { inWords } from './words.ts'

interface Props {
  readonly page: string
  readonly viewport: string
}

/** The real page as it is now, and where it is not as it was worked out. */
export function RealPage({ page, viewport }: Props) {
  const [seen, setSeen] = useState<LivePage | 'looking' | { readonly problem: string }>('looking')
  const [turn, setTurn] = useState(0)
  useEffect(() => {
    let isOver = false
    setSeen('looking')
    void lookLive(page)
      .then((found) => !isOver && setSeen(found))
      .catch(
        (error: unknown) => !isOver && setSeen({ problem: error instanceof Error ? error.message : String(error) }),
      )
    return () => {
      isOver = true
    }
  }, [page, turn])
  if (seen === 'looking') return <Busy with="Looking at the real page" p="md" />
  if ('problem' in seen)
    return (
      <Alert color="yellow" title="The real page was not seen" role="alert">
        {seen.problem}
      </Alert>
    )
  const picture = seen.pictures[viewport]
  const mine = seen.differences.filter((each) => each.viewport === viewport)
  return (
    <section aria-label="Real page">
      <Group justify="space-between" mb={6}>
        <Anchor href={seen.address} target="_blank" rel="noreferrer" size="sm">
          {seen.address}
        </Anchor>
        <Button size="compact-xs" variant="default" onClick={() => setTurn(turn + 1)}>
          Look again
        </Button>
      </Group>
      {picture === undefined ? (
        <Text size="sm">There is no picture at this width: choose one of the viewports.</Text>
      ) : (
        <div className="real-picture" tabIndex={0} role="group" aria-label="Picture of the real page">
          <img src={picture} alt={`The real page ${page} at ${viewport}`} />
        </div>
      )}
      <Text size="sm" fw={600} mt={8} role="status">
        {mine.length === 0 ? 'It is as it was worked out.' : `${mine.length} different at ${viewport}`}
      </Text>
      {mine.length > 0 && (
        <Table aria-label="Differences" verticalSpacing={4} fz="sm">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>what</Table.Th>
              <Table.Th>worked out</Table.Th>
              <Table.Th>real</Table.Th>
              <Table.Th>because</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {mine.map(({ property, expected, seen: is, because, decided }) => (
              <Table.Tr key={property}>
                <Table.Td>{property}</Table.Td>
                <Table.Td>{inWords(expected)}</Table.Td>
                <Table.Td>{inWords(is)}</Table.Td>
                <Table.Td>{because ?? decided ?? 'no setting explains it'}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      )}
    </section>
  )
}
