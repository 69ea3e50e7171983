# Debian packages that the project needs; sourced by `start` and `check`. Installs only what is missing.
build_packages="g++ mold cmake ninja-build pkg-config ccache qt6-base-dev libqt6sql6-sqlite libsqlite3-dev
  nlohmann-json3-dev libcli11-dev libexpected-dev libfmt-dev libpolyclipping-dev libboost-dev libssl-dev
  libqpdf-dev libpugixml-dev libminizip-dev libxlsxwriter-dev libcsv-dev zlib1g-dev"
test_packages="catch2 libgsl-dev python3-openpyxl python3-ezdxf python3-jsonschema python3-lxml python3-pypdf
  locales openssl curl xvfb xauth openbox clang-14 clang-format-14 clang-tidy-14 libclang-rt-14-dev"

need_packages() {
  local missing=""
  for package in "$@"; do
    dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null | grep -qx installed || missing="$missing $package"
  done
  [ -z "$missing" ] && return 0
  local as_root=""
  if [ "$(id -u)" != 0 ]; then
    command -v sudo >/dev/null ||
      { echo "These packages are missing, and there is no sudo to install them:$missing" >&2; return 1; }
    as_root="sudo"
  fi
  echo "Installing:$missing"
  $as_root env DEBIAN_FRONTEND=noninteractive apt-get update -qq || true
  # shellcheck disable=SC2086
  $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
}
