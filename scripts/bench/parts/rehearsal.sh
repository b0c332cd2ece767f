# Classes played for 59 meetings.
built
echo "${REHEARSALS:-4} of each; the noise of a ratio is some 4 % with 4, 2 % with 20"
node scripts/bench/rehearsal.mjs "$TARGET/release/bright-row" "${REHEARSALS:-4}" || missed=1
