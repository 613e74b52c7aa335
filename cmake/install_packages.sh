# Sourced by ./demo, ./test and ./check: installs the Debian packages named as arguments that are missing, and says so.
lampo_install() {
    local missing=() package
    for package in "$@"; do
        dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
    done
    [ ${#missing[@]} -eq 0 ] && return 0
    local root=()
    if [ "$(id -u)" -ne 0 ]; then
        command -v sudo >/dev/null || { echo "Lampo needs these packages, and there is no sudo to install them: ${missing[*]}" >&2; return 1; }
        root=(sudo)
    fi
    echo "Installing from Debian: ${missing[*]}"
    "${root[@]}" apt-get update -qq || return 1
    "${root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null || return 1
}

lampo_build_packages=(build-essential cmake ninja-build pkg-config qt6-base-dev qt6-base-dev-tools
    libsndfile1-dev libsoxr-dev libfftw3-dev libxxhash-dev nlohmann-json3-dev libexpected-dev libcli11-dev libboost-dev libfmt-dev librtaudio-dev
    libjack-jackd2-dev fonts-sil-charis libqt6svg6 libgl1-mesa-dev)
lampo_test_packages=(libaubio-dev midicsv sox flac sndfile-programs xxhash python3-jsonschema fluidsynth timgm6mb-soundfont
    musescore-general-soundfont-small avldrums.lv2-soundfont sonic-pi-samples xvfb xauth locales)
# The sanitized tests and the fuzzers of ./check; its other checks name what they need.
lampo_clang_packages=(clang libclang-rt-14-dev)
