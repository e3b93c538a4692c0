import { lazy, Suspense } from 'react'
import { BrowserRouter, Navigate, Route, Routes } from 'react-router'
import { ClientsPage } from '../clients/ClientsPage.tsx'
import { Frame } from './Frame.tsx'

const ApiPage = lazy(() => import('./ApiPage.tsx').then(file => ({ default: file.ApiPage })))
const JobsPage = lazy(() => import('./JobsPage.tsx').then(file => ({ default: file.JobsPage })))
const SourcesPage = lazy(() => import('../sources/SourcesPage.tsx').then(file => ({ default: file.SourcesPage })))
const OptionsPage = lazy(() => import('../sources/OptionsPage.tsx').then(file => ({ default: file.OptionsPage })))
const SourcePage = lazy(() => import('../sources/SourcePage.tsx').then(file => ({ default: file.SourcePage })))
const MappingPage = lazy(() => import('../mapping/MappingPage.tsx').then(file => ({ default: file.MappingPage })))
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
const DisputesPage = lazy(() => import('../payments/DisputesPage.tsx').then(file => ({ default: file.DisputesPage })))
const TieOutPage = lazy(() => import('../payments/TieOutPage.tsx').then(file => ({ default: file.TieOutPage })))
const ClearingPage = lazy(() => import('../clearing/ClearingPage.tsx').then(file => ({ default: file.ClearingPage })))
const ProofPage = lazy(() => import('../clearing/ProofPage.tsx').then(file => ({ default: file.ProofPage })))
const TidePage = lazy(() => import('../bank/TidePage.tsx').then(file => ({ default: file.TidePage })))
const BankAccountsPage = lazy(() =>
  import('../bank/BankAccountsPage.tsx').then(file => ({ default: file.BankAccountsPage })),
)
const ChartPage = lazy(() => import('../books/ChartPage.tsx').then(file => ({ default: file.ChartPage })))
const EntriesPage = lazy(() => import('../books/EntriesPage.tsx').then(file => ({ default: file.EntriesPage })))
const EntryPage = lazy(() => import('../books/EntryPage.tsx').then(file => ({ default: file.EntryPage })))
const RegisterPage = lazy(() => import('../books/RegisterPage.tsx').then(file => ({ default: file.RegisterPage })))
const OpeningPage = lazy(() => import('../books/OpeningPage.tsx').then(file => ({ default: file.OpeningPage })))
const RatesPage = lazy(() => import('../books/RatesPage.tsx').then(file => ({ default: file.RatesPage })))
const ClosePage = lazy(() => import('../close/ClosePage.tsx').then(file => ({ default: file.ClosePage })))

/** All pages by address. A stage's code is fetched when it is first entered. */
export const App = () => (
  <BrowserRouter>
    <Suspense fallback={null}>
      <Routes>
        <Route path="/" element={<ClientsPage />} />
        <Route path="/c/:client" element={<Frame />}>
          <Route index element={<Navigate to="settlements" replace />} />
          <Route path="sources" element={<SourcesPage />} />
          <Route path="sources/:source/options" element={<OptionsPage />} />
          <Route path="sources/:source" element={<SourcePage />} />
          <Route path="mapping" element={<MappingPage />} />
          <Route path="mapping/tax" element={<TaxGridPage />} />
          <Route path="mapping/tax/codes" element={<TaxPage />} />
          <Route path="mapping/tax/check" element={<TaxCheckPage />} />
          <Route path="mapping/rules" element={<RulesPage />} />
          <Route path="mapping/items" element={<ItemsPage />} />
          <Route path="mapping/:source" element={<MappingPage />} />
          <Route path="mapping/:source/starter" element={<StarterPage />} />
          <Route path="settlements" element={<SettlementsPage />} />
          <Route path="settlements/:source/:key/:currency" element={<SettlementPage />} />
          <Route path="payments" element={<TieOutPage />} />
          <Route path="payments/disputes" element={<DisputesPage />} />
          <Route path="clearing" element={<ClearingPage />} />
          <Route path="clearing/:account" element={<ProofPage />} />
          <Route path="bank" element={<TidePage />} />
          <Route path="bank/accounts" element={<BankAccountsPage />} />
          <Route path="bank/:account" element={<TidePage />} />
          <Route path="books" element={<ChartPage />} />
          <Route path="books/entries" element={<EntriesPage />} />
          <Route path="books/entries/:number" element={<EntryPage />} />
          <Route path="books/register/:account" element={<RegisterPage />} />
          <Route path="books/opening" element={<OpeningPage />} />
          <Route path="books/rates" element={<RatesPage />} />
          <Route path="jobs" element={<JobsPage />} />
          <Route path="close" element={<ClosePage />} />
        </Route>
        <Route path="/programs" element={<ApiPage />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Suspense>
  </BrowserRouter>
)
