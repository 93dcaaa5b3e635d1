#!/bin/sh
# Makes .venv with everything at its locked version, and the system libraries that Qt and the tests need.
# sh tools/setup.sh run|test
set -eu
what=$1
need=""
have() { dpkg-query -W -f '${db:Status-Status}' "$1" 2>/dev/null | grep -qx installed; }
command -v dpkg-query >/dev/null 2>&1 || { echo "dpkg is not here: Swept Shelf works on Debian packages and is built and tested with dpkg." >&2; exit 1; }
for p in libegl1 libgl1 libxkbcommon0 libdbus-1-3 libfontconfig1 libglib2.0-0 libxcb-cursor0 libxcb-icccm4 \
         libxcb-keysyms1 libxcb-image0 libxcb-render-util0 libxcb-shape0 libxcb-randr0 libxkbcommon-x11-0 fonts-noto-core python3-venv; do
    have "$p" || have "$p:$(dpkg --print-architecture)" || need="$need $p"
done
if [ "$what" = test ]; then for p in strace util-linux acl attr rpm flatpak squashfs-tools btrfs-progs mount systemd-journal-remote \
         xvfb weston openbox xdotool dbus-daemon at-spi2-core dconf-cli shared-mime-info gtk-update-icon-cache libglib2.0-bin polkitd pkexec sudo passwd; do have "$p" || need="$need $p"; done; fi
if [ -n "$need" ]; then
    if [ "$(id -u)" = 0 ]; then
        echo "Installing system packages:$need"
        apt-get update -qq
        DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $need >/dev/null
    else
        echo "These system packages are missing. Install them and start again:" >&2
        echo "  sudo apt-get install$need" >&2
        exit 1
    fi
fi
[ -x .venv/bin/python ] || python3 -m venv .venv
if [ "$what" = test ]; then lock=requirements-dev.txt; else lock=requirements.txt; fi
.venv/bin/python -m pip install -q --disable-pip-version-check -r "$lock"
site=$(.venv/bin/python -c 'import site; print(site.getsitepackages()[0])')
echo "$(pwd)/src" > "$site/swept_shelf.pth"
cat > .venv/bin/swept-shelf <<EOF
#!/bin/sh
exec "$(pwd)/.venv/bin/python" -I -m swept_shelf "\$@"
EOF
cat > .venv/bin/swept-shelf-helper <<EOF
#!/bin/sh
exec "$(pwd)/.venv/bin/python" -I -X utf8 -m swept_shelf.rights "\$@"
EOF
chmod +x .venv/bin/swept-shelf .venv/bin/swept-shelf-helper
touch .venv/ready
[ "$what" = test ] && touch .venv/ready-test
exit 0
