import { Anchor, Badge, Code, Group, Paper, Stack, Text } from '@mantine/core'
import type { Finding, Severity } from 'wembra'
import { pageAddress } from './use-route.ts'

/** Told apart by lightness of ground and by their words as well; contrast at least 7. */
const COLOURS: Readonly<Record<Severity, { readonly background: string; readonly color: string }>> = {
  error: { background: '#fbe0de', color: '#7d1a14' },
  warning: { background: '#fdeac4', color: '#5e3900' },
  note: { background: '#dde7fb', color: '#1b3a80' },
}

interface Props {
  readonly findings: readonly Finding[]
  readonly empty?: string
  /** Tells each finding's numbers on this page, beside the worst ones. */
  readonly page?: string
}

/** Findings by cause, each with the pages it leads to. */
export function FindingList({ findings, empty = 'Nothing is in conflict.', page }: Props) {
  if (findings.length === 0) return <Text c="dimmed">{empty}</Text>
  return (
    <Stack gap="xs" component="ul" className="plain-list">
      {findings.map((finding) => (
        <Paper key={finding.key} component="li" withBorder p="sm">
          <Group gap="xs" mb={4}>
            <Badge variant="light" style={COLOURS[finding.severity]}>
              {finding.severity}
            </Badge>
            <Text fw={650} size="sm">
              {finding.rule}
            </Text>
            <Code>
              {finding.at.file}:{finding.at.line}:{finding.at.column}
            </Code>
          </Group>
          <Text>{sentence(finding.message)}</Text>
          {page !== undefined && finding.pages.length > 1 && <Text size="sm">{onPage(finding, page)}</Text>}
          <Text size="sm" mt={2}>
            {whatToDo(finding)}
          </Text>
          <Group gap={8} mt={6}>
            {finding.pages.length > 0 && (
              <Text size="sm" c="dimmed">
                {finding.viewports.join(', ')}:
              </Text>
            )}
            {finding.pages.map((id) => (
              <Anchor key={id} href={pageAddress(id)} size="sm" underline="always">
                {id}
              </Anchor>
            ))}
          </Group>
        </Paper>
      ))}
    </Stack>
  )
}

/** The mend that is certain; else the choices; else advice. */
function whatToDo({ mends, advice }: Finding): string {
  const certain = mends.find((mend) => !mend.choice && !mend.others)
  if (certain) return `Mend: ${certain.title}.`
  const choices = mends.filter((mend) => mend.choice).map((mend) => mend.title)
  return choices.length > 0 ? `Choose: ${choices.join(', or ')}.` : `To do: ${advice}.`
}

/** "On this page: covered 42, room 90, needed 132 at desk." */
function onPage(finding: Finding, page: string): string {
  const groups = new Map<string, string[]>()
  for (const { viewport, numbers, ...rest } of finding.cases) {
    if (rest.page !== page) continue
    const words = Object.entries(numbers)
      .map(([name, n]) => `${name} ${Math.round(n * 10) / 10}`)
      .join(', ')
    groups.set(words, [...(groups.get(words) ?? []), viewport])
  }
  return `On this page: ${[...groups].map(([words, viewports]) => `${words} at ${viewports.join(', ')}`).join('; ')}.`
}

const sentence = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`
