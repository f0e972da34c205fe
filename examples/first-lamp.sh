#!/bin/sh
# A first mod without a window: a lamp, from the file a general 3D program exported to the game's mods folder.
# usage: examples/first-lamp.sh WORK_FOLDER   (rakugo-tool on the PATH; the game's folder is WORK_FOLDER/game)
set -eu
work=$1
examples=$(cd "$(dirname "$0")" && pwd)
source=$examples/mods/first-lamp/sources/quay-lamp
mod=$work/quay-lamp

rakugo-tool new "$mod" --rulebook kelpwick --title "Quay lamp"
rakugo-tool set "$mod" . author "Marn"
rakugo-tool set "$mod" . description "A lamp for the quay, with an iron coat."
rakugo-tool add "$mod" "$source/quay_lamp.glb"
rakugo-tool source set "$mod" quay-lamp author "Marn"
rakugo-tool source set "$mod" quay-lamp licence "CC0-1.0"

# How it is prepared: each step is a sentence.
rakugo-tool step add "$mod" quay-lamp read_lengths unit=cm
rakugo-tool step add "$mod" quay-lamp turn forward=-Z up=+Y
rakugo-tool step add "$mod" quay-lamp drop "parts=quay_lamp/aim,view,sun"
rakugo-tool step add "$mod" quay-lamp bake
rakugo-tool step add "$mod" quay-lamp origin to=floor_centre
rakugo-tool step add "$mod" quay-lamp role material=iron_coat role=paint
rakugo-tool step add "$mod" quay-lamp role material=mat_17 role=lamp
rakugo-tool step add "$mod" quay-lamp role material=pane role=glass
rakugo-tool mend "$mod" --check picture.missing
rakugo-tool step list "$mod" quay-lamp

# What it is to the game.
rakugo-tool set "$mod" quay-lamp title "Quay lamp"
rakugo-tool set "$mod" quay-lamp blurb "Stands where the quay ends. Lit when the tide turns."
rakugo-tool set "$mod" quay-lamp price 120
rakugo-tool set "$mod" quay-lamp mass 45
rakugo-tool set "$mod" quay-lamp lit yes
rakugo-tool set "$mod" quay-lamp shelf oddments
rakugo-tool set "$mod" quay-lamp icon "$examples/mods/lamplight/icons/quay-lamp.png"

# The game hangs the light where the lamp's glass is.
rakugo-tool mend "$mod" --check point.missing
rakugo-tool check "$mod"
rakugo-tool build "$mod" -o "$work/quay-lamp.rkb"
rakugo-tool verify "$work/quay-lamp.rkb"
mkdir -p "$work/game"
rakugo-tool install "$work/quay-lamp.rkb" --game "$work/game"
rakugo-tool list --game "$work/game"
