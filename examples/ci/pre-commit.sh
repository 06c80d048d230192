#!/bin/sh
# .git/hooks/pre-commit (make it executable): checks the site when one of its files is about to be committed.
git diff --cached --name-only | grep -qE '\.(site\.ya?ml|css)$' || exit 0
exec npx wembra check --no-fixes
