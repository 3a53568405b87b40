#!/bin/sh
# The sample files of python-docx are in its source distribution only; puts them under .venv/samples.
set -e
[ -d .venv/samples ] && exit 0
folder=$(mktemp -d)
.venv/bin/python -m pip download --quiet --disable-pip-version-check --no-deps --no-binary :all: -d "$folder" \
  "$(grep -o '^python-docx==[0-9.]*' requirements.lock)"
mkdir "$folder/samples"
tar xzf "$folder"/python_docx-*.tar.gz -C "$folder/samples" --strip-components 1
mv "$folder/samples" .venv/samples
rm -r "$folder"
