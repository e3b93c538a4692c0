import { Modal } from '../ui/Modal.tsx'

const keys: readonly [string, string][] = [
  ['1 – 8', 'go to a stage of the course'],
  ['j k', 'next and previous row, or settlement'],
  ['Enter', 'open the row'],
  ['Space', 'select the row; on the bank page, pick what is to be paired by hand'],
  ['h l', 'across the tide table, from payouts to deposits and back'],
  ['o', 'the other groupings that fit'],
  ['c s', 'code a bank line to an account; set it aside'],
  ['t', 'trace the row’s amount'],
  ['p', 'post, or confirm'],
  ['b', 'take back, or take apart'],
  ['/', 'filter this table'],
  ['Ctrl K', 'find by amount, number, name or page'],
  ['Esc', 'close a panel or dialog'],
  ['?', 'these keys'],
]

/** All keys of the pages. */
export const KeysDialog = ({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) => (
  <Modal open={open} title="Keys" onClose={onClose}>
    <table>
      <tbody>
        {keys.map(([key, meaning]) => (
          <tr key={key}>
            <td style={{ padding: '3px 16px 3px 0' }}>
              <kbd>{key}</kbd>
            </td>
            <td>{meaning}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </Modal>
)
