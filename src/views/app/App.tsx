import { QueryClientProvider } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { Toaster } from 'sonner';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { queryClient } from '../api/queries.ts';
import { Admitted } from './Admitted.tsx';
import { Frame } from './Frame.tsx';
import { ViewBoundary } from './ViewBoundary.tsx';

const TakesView = lazy(() => import('../capture/TakesView.tsx'));
const LiveView = lazy(() => import('../live/LiveView.tsx'));
const SweepsView = lazy(() => import('../sweep/SweepsView.tsx'));
const SweepView = lazy(() => import('../sweep/SweepView.tsx'));
const WaitingTakes = lazy(() => import('../take/WaitingTakes.tsx'));
const TakeView = lazy(() => import('../take/TakeView.tsx'));
const CompsView = lazy(() => import('../comp/CompsView.tsx'));
const CompView = lazy(() => import('../comp/CompView.tsx'));
const DraftsView = lazy(() => import('../phrase/DraftsView.tsx'));
const BatchView = lazy(() => import('../batch/BatchView.tsx'));
const HouseView = lazy(() => import('../house/HouseView.tsx'));
const PhraseView = lazy(() => import('../phrase/PhraseView.tsx'));
const LibraryView = lazy(() => import('../library/LibraryView.tsx'));
const HarmonyView = lazy(() => import('../library/HarmonyView.tsx'));
const TwiceView = lazy(() => import('../library/TwiceView.tsx'));
const ReuseView = lazy(() => import('../reuse/ReuseView.tsx'));
const ThroughView = lazy(() => import('../reuse/through/ThroughView.tsx'));
const ChangesView = lazy(() => import('../reuse/changes/ChangesView.tsx'));
const WeavesView = lazy(() => import('../weave/WeavesView.tsx'));
const WeaveView = lazy(() => import('../weave/WeaveView.tsx'));
const LineageView = lazy(() => import('../reuse/lineage/LineageView.tsx'));
const LayerView = lazy(() => import('../reuse/LayerView.tsx'));
const TuneChordsView = lazy(() => import('../reuse/changes/TuneChordsView.tsx'));
const BasketsView = lazy(() => import('../basket/BasketsView.tsx'));
const MirrorView = lazy(() => import('../mirror/MirrorView.tsx'));
const PacksInView = lazy(() => import('../merge/PacksInView.tsx'));
const MergeView = lazy(() => import('../merge/MergeView.tsx'));
const RecipientsView = lazy(() => import('../recipient/RecipientsView.tsx'));
const PeopleView = lazy(() => import('../people/PeopleView.tsx'));
const BasketView = lazy(() => import('../basket/BasketView.tsx'));

/** The whole interface: one frame, a view an address. */
export function App() {
  return (
    <QueryClientProvider client={queryClient}>
      <BrowserRouter>
        <Admitted>
          <Frame>
            <ViewBoundary>
              <Suspense fallback={<Busy what="Opening" />}>
                <Routes>
                  <Route path="/" element={<Navigate to="/library" replace />} />
                  <Route path="/capture" element={<TakesView />} />
                  <Route path="/capture/live" element={<LiveView />} />
                  <Route path="/capture/sweep" element={<SweepsView />} />
                  <Route path="/capture/sweep/:id" element={<SweepView />} />
                  <Route path="/split" element={<WaitingTakes />} />
                  <Route path="/split/comp" element={<CompsView />} />
                  <Route path="/split/comp/:id" element={<CompView />} />
                  <Route path="/split/:id" element={<TakeView />} />
                  <Route path="/normalize" element={<DraftsView />} />
                  <Route path="/normalize/batch/:id" element={<BatchView />} />
                  <Route path="/house" element={<HouseView />} />
                  <Route path="/normalize/:id" element={<PhraseView />} />
                  <Route path="/library" element={<LibraryView />} />
                  <Route path="/library/harmony" element={<HarmonyView />} />
                  <Route path="/library/twice" element={<TwiceView />} />
                  <Route path="/reuse" element={<ReuseView />} />
                  <Route path="/reuse/changes" element={<ChangesView />} />
                  <Route path="/reuse/chords" element={<TuneChordsView />} />
                  <Route path="/reuse/weave" element={<WeavesView />} />
                  <Route path="/reuse/weave/:id" element={<WeaveView />} />
                  <Route path="/reuse/lineage" element={<LineageView />} />
                  <Route path="/reuse/layer" element={<LayerView />} />
                  <Route path="/reuse/through" element={<ThroughView />} />
                  <Route path="/handoff" element={<BasketsView />} />
                  <Route path="/handoff/mirror" element={<MirrorView />} />
                  <Route path="/handoff/came-back" element={<PacksInView />} />
                  <Route path="/handoff/came-back/:id" element={<MergeView />} />
                  <Route path="/handoff/recipients" element={<RecipientsView />} />
                  <Route path="/handoff/recipients/:id" element={<RecipientsView />} />
                  <Route path="/handoff/:id" element={<BasketView />} />
                  <Route path="/people" element={<PeopleView />} />
                  <Route
                    path="*"
                    element={
                      <EmptyState title="There is nothing at this address">
                        Choose a stage of the line of work above.
                      </EmptyState>
                    }
                  />
                </Routes>
              </Suspense>
            </ViewBoundary>
          </Frame>
        </Admitted>
        <Toaster
          // What is done next stands at the right; a message must not lie on it.
          position="bottom-left"
          offset={{ bottom: 72 }}
          toastOptions={{
            style: { background: 'var(--card)', color: 'var(--ink)', border: '1px solid var(--rule)' },
          }}
        />
      </BrowserRouter>
    </QueryClientProvider>
  );
}
