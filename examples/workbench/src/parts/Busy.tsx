import { Group, Loader, Text, type GroupProps } from '@mantine/core'

/** Says what is being worked on, to those who see and those who listen. */
export const Busy = ({ with: what, ...place }: { readonly with: string } & GroupProps) => (
  <Group gap="xs" role="status" {...place}>
    <Loader size="sm" />
    <Text size="sm">{what}…</Text>
  </Group>
)
