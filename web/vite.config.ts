import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        // what changes seldom stays in the browser's cache when we do
        codeSplitting: {
          groups: [
            { name: 'react', test: /node_modules\/(?:react|react-dom|react-router|scheduler)\// },
            { name: 'zod', test: /node_modules\/zod\// },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': `http://127.0.0.1:${process.env.PORT ?? 4180}` } },
});
