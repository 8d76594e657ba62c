import { Kbd, Table } from '@mantine/core';
import { STAGES } from './stages';
import { Dialog } from './Dialog';

const KEYS: readonly (readonly [string, string])[] = [
  ...STAGES.map((stage) => [stage.key, `Go to ${stage.name}`] as const),
  ['/', 'Filter the list'],
  ['l', 'Go to the list'],
  ['↑ ↓ Home End', 'Move through the list'],
  ['Space', 'Tick or untick the row, or open it'],
  ['Shift ↑ ↓, Shift Space', 'Tick all on the way'],
  ['Ctrl A, Escape', 'Tick all, none'],
  ['Enter', 'Open the row'],
  ['Alt ← →, Alt Shift ← →', 'On the title of a column: move it, size it'],
  ['Space, arrows, Space', 'On a grip: take hold, choose where, let go'],
  ['p', 'Go to the button of the plan sheet'],
  ['← →', 'On a drawn timeline: from event to event'],
  ['+ − 0', 'On a drawn timeline: zoom in, out, whole'],
  ['Enter', 'On a drawn timeline: open or close nested ones'],
  ['Ctrl Z, Ctrl Shift Z', 'In the bins: take back, do again'],
  ['Ctrl K', 'Find anything'],
  ['?', 'This help'],
];

/** Every key there is. */
export function HelpSheet({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Dialog opened={opened} onClose={onClose} title="Keys" size="sm">
      <Table>
        <Table.Tbody>
          {KEYS.map(([key, what]) => (
            <Table.Tr key={key + what}>
              <Table.Td>
                <Kbd>{key}</Kbd>
              </Table.Td>
              <Table.Td>{what}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </Dialog>
  );
}
