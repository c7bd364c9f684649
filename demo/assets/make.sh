#!/bin/sh
# Makes the picture and the film of the story: felt in its colours, and panels that are put up one after the other.
set -e
cd "$(dirname "$0")"
boxes=""
n=0
for colour in 2A4A7B 4D6A92 7F93AE B3352C C96A5F DDA59C 9A6B15 BF9A52 DCC596 3F5B46 6F8B73 A9BBA6; do
  x=$((40 + n % 4 * 290)); y=$((40 + n / 4 * 245))
  boxes="$boxes,drawbox=x=$x:y=$y:w=250:h=205:color=0x$colour:t=fill"
  n=$((n + 1))
done
ffmpeg -y -loglevel error -f lavfi -i "color=c=0xFBF9F4:s=1200x775:d=1" -vf "${boxes#,},noise=alls=4:all_seed=7" -frames:v 1 -q:v 5 colour-card.jpg
panels=""
n=0
for colour in 2A4A7B B3352C 9A6B15 3F5B46 4D6A92 BF9A52; do
  x=$((30 + n % 3 * 145)); y=$((25 + n / 3 * 115)); t=$((1 + n))
  panels="$panels,drawbox=x=$x:y=$y:w=130:h=100:color=0x$colour:t=fill:enable='gte(t,$t)'"
  n=$((n + 1))
done
ffmpeg -y -loglevel error -f lavfi -i "color=c=0xE5E0D5:s=480x270:r=12:d=9" -vf "${panels#,}" -c:v libvpx-vp9 -b:v 60k -pix_fmt yuv420p -fflags +bitexact putting-up-panels.webm
