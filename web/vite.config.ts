import { fileURLToPath } from 'node:url';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig(({ mode }) => ({
  plugins: [react(), tailwindcss()],
  resolve: {
    alias: { '#more-families': here(mode === 'with-tests' ? 'src/test/families/index.ts' : 'src/families/none.ts') },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8440' } },
}));
