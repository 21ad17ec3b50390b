#!/usr/bin/env bash
# Builds everything that is served but not written by hand: styles, script, fonts, icons; and what the
# browser tests need. Same sources, same bytes.
# Usage: build.sh STATIC_DIR TEST_DIR
set -euo pipefail
static=$1 test=$2
mkdir -p "$static/css" "$static/js" "$static/fonts" "$static/icons" "$test"
node_modules/.bin/tailwindcss -i styles/app.css -o "$static/css/app.css" --minify 2>/dev/null
rm -f "$static"/js/*.js
node_modules/.bin/esbuild src/euhydra/web/js/{app,charting,planning}.js --bundle --minify --format=esm --splitting --chunk-names='[name]' \
  --target=es2022 --legal-comments=none --log-level=warning --outdir="$static/js"
node_modules/.bin/esbuild src/euhydra/web/js/sw.js --minify --target=es2022 --legal-comments=none \
  --log-level=warning --outfile="$static/js/sw.js"
cp node_modules/@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2 "$static/fonts/"
cp node_modules/@fontsource-variable/source-sans-3/LICENSE "$static/fonts/source-sans-3-LICENSE.txt"
cp node_modules/@fontsource/alegreya/files/alegreya-latin-500-normal.woff2 "$static/fonts/" # headings: one weight
cp node_modules/@fontsource/alegreya/LICENSE "$static/fonts/alegreya-LICENSE.txt"
cat node_modules/d3-{array,axis,color,format,interpolate,path,scale,selection,shape,time,time-format}/LICENSE \
  node_modules/internmap/LICENSE node_modules/idb-keyval/LICENCE node_modules/@alpinejs/csp/LICENSE* 2>/dev/null > "$static/js/LICENSES.txt" || true
node styles/icons.mjs src/euhydra/web/static/icon.svg "$static/icons"
cp node_modules/axe-core/axe.min.js "$test/axe.min.js"
cp node_modules/axe-core/LICENSE "$test/axe-LICENSE.txt"
