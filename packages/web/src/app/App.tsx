import { lazy, Suspense } from 'react'
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router'
import { ClientsPage } from '../clients/ClientsPage.tsx'
import { Gate } from './Gate.tsx'
import { NothingHere, PageFailed } from './PageFailed.tsx'

// What surrounds a client's pages is fetched after the first view, and at once where one begins in a client.
const frame = () => import('./Frame.tsx')
const afterFirstView = 3000
if (window.location.pathname.startsWith('/c/')) void frame()
else setTimeout(() => void frame(), afterFirstView)
const Frame = lazy(() => frame().then(file => ({ default: file.Frame })))
const InvitationPage = lazy(() =>
  import('../people/InvitationPage.tsx').then(file => ({ default: file.InvitationPage })),
)
const PasswordPage = lazy(() => import('../people/PasswordPage.tsx').then(file => ({ default: file.PasswordPage })))
const AddressPage = lazy(() => import('../people/AddressPage.tsx').then(file => ({ default: file.AddressPage })))
const QuestionPage = lazy(() => import('../notes/QuestionPage.tsx').then(file => ({ default: file.QuestionPage })))
const AskedPage = lazy(() => import('../notes/AskedPage.tsx').then(file => ({ default: file.AskedPage })))
const ActsPage = lazy(() => import('../acts/ActsPage.tsx').then(file => ({ default: file.ActsPage })))
const CustomersPage = lazy(() => import('../sources/CustomersPage.tsx').then(file => ({ default: file.CustomersPage })))
const AccountPage = lazy(() => import('../people/AccountPage.tsx').then(file => ({ default: file.AccountPage })))
const PeoplePage = lazy(() => import('../people/PeoplePage.tsx').then(file => ({ default: file.PeoplePage })))
const ApiPage = lazy(() => import('./ApiPage.tsx').then(file => ({ default: file.ApiPage })))
const JobsPage = lazy(() => import('./JobsPage.tsx').then(file => ({ default: file.JobsPage })))
const ClientSettingsPage = lazy(() =>
  import('../clients/ClientSettingsPage.tsx').then(file => ({ default: file.ClientSettingsPage })),
)
const ColumnsPage = lazy(() => import('../files/ColumnsPage.tsx').then(file => ({ default: file.ColumnsPage })))
const SourcesPage = lazy(() => import('../sources/SourcesPage.tsx').then(file => ({ default: file.SourcesPage })))
const OptionsPage = lazy(() => import('../sources/OptionsPage.tsx').then(file => ({ default: file.OptionsPage })))
const ShopPage = lazy(() => import('../sources/ShopPage.tsx').then(file => ({ default: file.ShopPage })))
const ConnectedPage = lazy(() => import('../sources/ConnectedPage.tsx').then(file => ({ default: file.ConnectedPage })))
const GrantingPage = lazy(() => import('../sources/GrantingPage.tsx').then(file => ({ default: file.GrantingPage })))
const SourcePage = lazy(() => import('../sources/SourcePage.tsx').then(file => ({ default: file.SourcePage })))
const MappingPage = lazy(() => import('../mapping/MappingPage.tsx').then(file => ({ default: file.MappingPage })))
const MissingPage = lazy(() => import('../mapping/MissingPage.tsx').then(file => ({ default: file.MissingPage })))
const StarterPage = lazy(() => import('../mapping/StarterPage.tsx').then(file => ({ default: file.StarterPage })))
const RulesPage = lazy(() => import('../mapping/RulesPage.tsx').then(file => ({ default: file.RulesPage })))
const ItemsPage = lazy(() => import('../mapping/ItemsPage.tsx').then(file => ({ default: file.ItemsPage })))
const TaxGridPage = lazy(() => import('../mapping/TaxGridPage.tsx').then(file => ({ default: file.TaxGridPage })))
const TaxCheckPage = lazy(() => import('../mapping/TaxCheckPage.tsx').then(file => ({ default: file.TaxCheckPage })))
const TaxPage = lazy(() => import('../mapping/TaxPage.tsx').then(file => ({ default: file.TaxPage })))
const SettlementsPage = lazy(() =>
  import('../settlements/SettlementsPage.tsx').then(file => ({ default: file.SettlementsPage })),
)
const SettlementPage = lazy(() =>
  import('../settlements/SettlementPage.tsx').then(file => ({ default: file.SettlementPage })),
)
const DecidedPage = lazy(() => import('../payments/DecidedPage.tsx').then(file => ({ default: file.DecidedPage })))
const DisputesPage = lazy(() => import('../payments/DisputesPage.tsx').then(file => ({ default: file.DisputesPage })))
const TieOutPage = lazy(() => import('../payments/TieOutPage.tsx').then(file => ({ default: file.TieOutPage })))
const ClearingPage = lazy(() => import('../clearing/ClearingPage.tsx').then(file => ({ default: file.ClearingPage })))
const ProofPage = lazy(() => import('../clearing/ProofPage.tsx').then(file => ({ default: file.ProofPage })))
const TidePage = lazy(() => import('../bank/TidePage.tsx').then(file => ({ default: file.TidePage })))
const BankAccountsPage = lazy(() =>
  import('../bank/BankAccountsPage.tsx').then(file => ({ default: file.BankAccountsPage })),
)
const BankProofPage = lazy(() => import('../bank/BankProofPage.tsx').then(file => ({ default: file.BankProofPage })))
const ChartPage = lazy(() => import('../books/ChartPage.tsx').then(file => ({ default: file.ChartPage })))
const EntriesPage = lazy(() => import('../books/EntriesPage.tsx').then(file => ({ default: file.EntriesPage })))
const EntryPage = lazy(() => import('../books/EntryPage.tsx').then(file => ({ default: file.EntryPage })))
const RegisterPage = lazy(() => import('../books/RegisterPage.tsx').then(file => ({ default: file.RegisterPage })))
const OpeningPage = lazy(() => import('../books/OpeningPage.tsx').then(file => ({ default: file.OpeningPage })))
const ContactsPage = lazy(() => import('../books/ContactsPage.tsx').then(file => ({ default: file.ContactsPage })))
const OpenItemsPage = lazy(() => import('../books/OpenItemsPage.tsx').then(file => ({ default: file.OpenItemsPage })))
const RatesPage = lazy(() => import('../books/RatesPage.tsx').then(file => ({ default: file.RatesPage })))
const ClosePage = lazy(() => import('../close/ClosePage.tsx').then(file => ({ default: file.ClosePage })))

/** All pages by address. A stage's code is fetched when it is first entered; where a page fails, the frame around it stays. */
const router = createBrowserRouter([
  {
    errorElement: <PageFailed />,
    children: [
      { path: '/invitation', element: <InvitationPage /> },
      { path: '/password', element: <PasswordPage /> },
      { path: '/address', element: <AddressPage /> },
      { path: '/question', element: <QuestionPage /> },
      { path: '/connected', element: <ConnectedPage /> },
      { path: '/granting', element: <GrantingPage /> },
    ],
  },
  {
    element: <Gate />,
    errorElement: <PageFailed />,
    children: [
      { path: '/', element: <ClientsPage /> },
      { path: '/programs', element: <ApiPage /> },
      { path: '/account', element: <AccountPage /> },
      { path: '/people', element: <PeoplePage /> },
      {
        path: '/c/:client',
        element: <Frame />,
        children: [
          {
            errorElement: <PageFailed />,
            children: [
              { index: true, element: <Navigate to="settlements" replace /> },
              { path: 'settings', element: <ClientSettingsPage /> },
              { path: 'files/:subject/:key', element: <ColumnsPage /> },
              { path: 'sources', element: <SourcesPage /> },
              { path: 'sources/customers', element: <CustomersPage /> },
              { path: 'sources/connect/:grant', element: <ShopPage /> },
              { path: 'sources/:source/options', element: <OptionsPage /> },
              { path: 'sources/:source', element: <SourcePage /> },
              { path: 'mapping', element: <MappingPage /> },
              { path: 'mapping/missing', element: <MissingPage /> },
              { path: 'mapping/tax', element: <TaxGridPage /> },
              { path: 'mapping/tax/codes', element: <TaxPage /> },
              { path: 'mapping/tax/check', element: <TaxCheckPage /> },
              { path: 'mapping/rules', element: <RulesPage /> },
              { path: 'mapping/items', element: <ItemsPage /> },
              { path: 'mapping/:source', element: <MappingPage /> },
              { path: 'mapping/:source/starter', element: <StarterPage /> },
              { path: 'settlements', element: <SettlementsPage /> },
              { path: 'settlements/:source/:key/:currency', element: <SettlementPage /> },
              { path: 'payments', element: <TieOutPage /> },
              { path: 'payments/decided', element: <DecidedPage /> },
              { path: 'payments/disputes', element: <DisputesPage /> },
              { path: 'clearing', element: <ClearingPage /> },
              { path: 'clearing/:account', element: <ProofPage /> },
              { path: 'bank', element: <TidePage /> },
              { path: 'bank/accounts', element: <BankAccountsPage /> },
              { path: 'bank/:account', element: <TidePage /> },
              { path: 'bank/:account/proof', element: <BankProofPage /> },
              { path: 'books', element: <ChartPage /> },
              { path: 'books/entries', element: <EntriesPage /> },
              { path: 'books/entries/:number', element: <EntryPage /> },
              { path: 'books/register/:account', element: <RegisterPage /> },
              { path: 'books/opening', element: <OpeningPage /> },
              { path: 'books/contacts', element: <ContactsPage /> },
              { path: 'books/open-items', element: <OpenItemsPage /> },
              { path: 'books/rates', element: <RatesPage /> },
              { path: 'jobs', element: <JobsPage /> },
              { path: 'close', element: <ClosePage /> },
              { path: 'acts', element: <ActsPage /> },
              { path: 'asked', element: <AskedPage /> },
              { path: '*', element: <NothingHere /> },
            ],
          },
        ],
      },
      { path: '*', element: <NothingHere /> },
    ],
  },
])

export const App = () => (
  <Suspense fallback={null}>
    <RouterProvider router={router} />
  </Suspense>
)
