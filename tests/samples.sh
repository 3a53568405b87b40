#!/bin/sh
# Samples that are in source distributions only: .docx files of python-docx, and the cases of the CommonMark specification, which
# markdown-it-py brings. Puts them under .venv/samples.
set -e
# sample PACKAGE FOLDER: unpacks the source of the version in use, unless it is there.
sample() {
  [ -d ".venv/samples/$2" ] && return
  folder=$(mktemp -d)
  .venv/bin/python -m pip download --quiet --disable-pip-version-check --no-deps --no-binary :all: -d "$folder" \
    "$(grep -o "^$1==[0-9.]*" requirements.lock)"
  mkdir "$folder/sample"
  tar xzf "$folder"/*.tar.gz -C "$folder/sample" --strip-components 1
  mkdir -p .venv/samples
  mv "$folder/sample" ".venv/samples/$2"
  rm -r "$folder"
}
sample python-docx docx
sample markdown-it-py markdown
