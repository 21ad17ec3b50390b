#!/usr/bin/env bash
# Builds everything that is served but not written by hand: styles, script, fonts, icons; and what the
# browser tests need. Same sources, same bytes.
# Usage: build.sh STATIC_DIR TEST_DIR
set -euo pipefail
static=$1 test=$2
mkdir -p "$static/css" "$static/js" "$static/fonts" "$static/icons" "$test"
node_modules/.bin/tailwindcss -i styles/app.css -o "$static/css/app.css" --minify 2>/dev/null
node_modules/.bin/esbuild src/euhydra/web/js/app.js --bundle --minify --format=iife --target=es2022 \
  --legal-comments=none --log-level=warning --outfile="$static/js/app.js"
node_modules/.bin/esbuild src/euhydra/web/js/sw.js --minify --target=es2022 --legal-comments=none \
  --log-level=warning --outfile="$static/js/sw.js"
for font in source-sans-3 alegreya; do
  cp "node_modules/@fontsource-variable/$font/files/$font-latin-wght-normal.woff2" "$static/fonts/"
  cp "node_modules/@fontsource-variable/$font/LICENSE" "$static/fonts/$font-LICENSE.txt"
done
cat node_modules/d3-{array,axis,color,format,interpolate,path,scale,selection,shape,time,time-format}/LICENSE \
  node_modules/internmap/LICENSE node_modules/idb-keyval/LICENCE node_modules/@alpinejs/csp/LICENSE* 2>/dev/null > "$static/js/LICENSES.txt" || true
node styles/icons.mjs src/euhydra/web/static/icon.svg "$static/icons"
cp node_modules/axe-core/axe.min.js "$test/axe.min.js"
cp node_modules/axe-core/LICENSE "$test/axe-LICENSE.txt"
