#!/usr/bin/env bash
# Builds the front end: packages when the lock file changed, fonts and pages when a source did.
# With a folder: the pages with the families of tests among them, into that folder.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")"
[ node_modules/.package-lock.json -nt package-lock.json ] || npm ci --no-progress
if [ -n "${1-}" ]; then
  exec npx vite build --mode with-tests --outDir "$1" --emptyOutDir --logLevel warn
fi
[ target/fonts/IBMPlexMono-SemiBold.ttf -nt fonts.mjs ] || node fonts.mjs
if [ -f dist/index.html ] && [ -z "$(find src index.html package.json vite.config.ts validators.mjs eslint.config.js ../server/openapi.json -newer dist/index.html -not -path '*/generated/*' -type f -print -quit)" ]; then
  exit 0
fi
npm run --silent build
