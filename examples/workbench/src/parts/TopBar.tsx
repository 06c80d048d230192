import {
  ActionIcon,
  Anchor,
  Badge,
  Button,
  FileButton,
  Group,
  Menu,
  Text,
  Title,
  useMantineColorScheme,
} from '@mantine/core'
import IconArrowBackUp from '@tabler/icons-react/dist/esm/icons/IconArrowBackUp.mjs'
import IconArrowForwardUp from '@tabler/icons-react/dist/esm/icons/IconArrowForwardUp.mjs'
import IconMoon from '@tabler/icons-react/dist/esm/icons/IconMoon.mjs'
import IconSun from '@tabler/icons-react/dist/esm/icons/IconSun.mjs'
import { memo, useState } from 'react'
import type { Remote } from 'comlink'
import { canOpenHandles, download } from '../session/open-files.ts'
import { screenAddress, type Screen } from '../session/use-route.ts'
import type { Session } from '../session/use-session.ts'
import type { Work } from '../worker/site.worker.ts'
import type { Findings } from '../worker/use-findings.ts'
import { SearchBox } from './SearchBox.tsx'

/** The ways to open another site. */
export interface Openers {
  readonly files: (files: readonly File[]) => void
  /** Files that can be written in place. */
  readonly handles: () => void
  readonly demo: () => void
}

interface Props {
  readonly session: Session
  readonly found: Findings
  readonly screen: Screen
  readonly open: Openers
  readonly ask: () => Promise<Remote<Work>>
}

const TABS: readonly (readonly [Screen, string])[] = [
  ['pages', 'Pages'],
  ['findings', 'Conflicts'],
  ['layers', 'Layers'],
  ['source', 'Source'],
]

/** Where one is, what is being done, and what holds for the whole site: undo, open, save. */
export const TopBar = memo(function TopBar({ session, found, screen, open, ask }: Props) {
  const { resolved, history } = session
  const [said, say] = useState('')
  const { colorScheme, setColorScheme } = useMantineColorScheme()
  const isDark =
    colorScheme === 'dark' || (colorScheme === 'auto' && matchMedia('(prefers-color-scheme: dark)').matches)
  const last = history.present.label
  const next = history.future[0]?.label
  const current = screen === 'page' ? 'pages' : screen
  return (
    <div className="top-bar">
      <Title order={1} size="h5" className="site-name" title={resolved.site.data.site.name}>
        {resolved.site.data.site.name}
      </Title>
      <Group component="nav" gap="md" aria-label="Screens">
        {TABS.map(([name, label]) => (
          <Anchor
            key={name}
            href={screenAddress(name)}
            className="tab"
            aria-current={current === name ? 'page' : undefined}
            underline="never"
          >
            {label}
            {name === 'findings' && found.isCurrent && (
              <Badge ml={6} size="sm" className="count">
                {found.findings.length}
              </Badge>
            )}
          </Anchor>
        ))}
      </Group>
      <SearchBox session={session} />
      <Text size="xs" c="dimmed" role="status" className="status">
        {found.busy ? `${found.busy}…` : (found.problem && 'Could not look') || said}
      </Text>
      <Group gap={6} wrap="nowrap" className="tools">
        <ActionIcon
          variant="default"
          size="lg"
          onClick={session.undo}
          disabled={history.past.length === 0}
          aria-label={history.past.length > 0 ? `Undo: ${last}` : 'Undo'}
          title={history.past.length > 0 ? `Undo: ${last} (Ctrl+Z)` : 'Nothing to undo'}
        >
          <IconArrowBackUp size={18} />
        </ActionIcon>
        <ActionIcon
          variant="default"
          size="lg"
          onClick={session.redo}
          disabled={next === undefined}
          aria-label={next === undefined ? 'Redo' : `Redo: ${next}`}
          title={next === undefined ? 'Nothing to redo' : `Redo: ${next} (Ctrl+Shift+Z)`}
        >
          <IconArrowForwardUp size={18} />
        </ActionIcon>
        <OpenMenu open={open} />
        <SaveMenu session={session} found={found} ask={ask} say={say} />
        <ActionIcon
          variant="default"
          size="lg"
          onClick={() => setColorScheme(isDark ? 'light' : 'dark')}
          aria-label={isDark ? 'Light colors' : 'Dark colors'}
        >
          {isDark ? <IconSun size={18} /> : <IconMoon size={18} />}
        </ActionIcon>
      </Group>
    </div>
  )
})

function OpenMenu({ open }: Pick<Props, 'open'>) {
  return (
    <Menu position="bottom-end" keepMounted>
      <Menu.Target>
        <Button variant="default" size="xs" h={34}>
          Open
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <FileButton multiple onChange={(files) => files.length > 0 && open.files(files)}>
          {(props) => (
            <Menu.Item {...props} closeMenuOnClick>
              Files from this computer…
            </Menu.Item>
          )}
        </FileButton>
        {canOpenHandles() && <Menu.Item onClick={open.handles}>Files to edit in place…</Menu.Item>}
        <Menu.Item onClick={open.demo}>The demo site</Menu.Item>
        <Menu.Label>Or drop a site file, with all it names, anywhere.</Menu.Label>
      </Menu.Dropdown>
    </Menu>
  )
}

function SaveMenu({
  session,
  found,
  ask,
  say,
}: Pick<Props, 'session' | 'found' | 'ask'> & { readonly say: (text: string) => void }) {
  const { project, texts, isChanged } = session
  const changed = Object.keys(texts).filter((path) => texts[path] !== project.texts[path])
  const isSavedBack = project.origin === 'server' || project.origin === 'handles'
  const saveAll = async (): Promise<void> => {
    if (isSavedBack) return say(await session.save().catch((error: unknown) => `Not saved: ${String(error)}`))
    for (const path of changed) download(path, texts[path] ?? '')
  }
  const patch = async (): Promise<void> => {
    const operations = await (await ask()).changesSince({ file: project.file, binary: project.binary }, project.texts)
    download('changes.patch.json', `${JSON.stringify(operations, null, 2)}\n`, 'application/json')
  }
  const report = async (): Promise<void> => download('findings.html', await (await ask()).report(), 'text/html')
  return (
    <Menu position="bottom-end" keepMounted>
      <Menu.Target>
        <Button size="xs" h={34} variant={isChanged ? 'filled' : 'default'}>
          Save{isChanged ? ' •' : ''}
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item disabled={isSavedBack ? !isChanged : changed.length === 0} onClick={() => void saveAll()}>
          {isSavedBack ? 'Save to the files' : `Changed files (${changed.length})`}
        </Menu.Item>
        <Menu.Item disabled={changed.length === 0} onClick={() => void patch()}>
          The changes as a JSON Patch
        </Menu.Item>
        <Menu.Item disabled={!found.isCurrent} onClick={() => void report()}>
          Conflicts as a report (HTML)
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}
