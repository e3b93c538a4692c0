import { Page } from '../ui/Page.tsx'

/** What will stand here, and what it waits for. */
export const PaymentsPage = () => (
  <Page title="Payments">
    <table className="sheet" aria-label="Open payments">
      <tbody>
        <tr>
          <td className="wrap" style={{ padding: 14 }}>
            No payment waits for a customer or an invoice. Payments come from gateways that collect money themselves;
            the sources of this client settle sales and fees on one balance, so everything they report is on the
            Settlements page.
          </td>
        </tr>
      </tbody>
    </table>
  </Page>
)
