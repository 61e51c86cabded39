import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { FirstPage } from './FirstPage';
import './tokens.css';

const root = document.getElementById('root');
if (!root) {
  throw new Error('the page has no root element');
}
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={new QueryClient()}>
      <FirstPage />
    </QueryClientProvider>
  </StrictMode>,
);
