/* SPDX-License-Identifier: MIT */
/* What was heard in a sound, tick by tick; for the command "hear" and its picture. */
#ifndef GLANZ_TOOL_HEARING_H
#define GLANZ_TOOL_HEARING_H

#include <glanz/sound.h>

struct heard_tick {
    struct glanz_heard heard; /* `band` is not to be used */
    uint16_t band[GLANZ_BANDS_MOST];
    uint8_t begun; /* bits: an onset of this range began */
    uint8_t beat;
};

struct hearing {
    struct glanz_hearing how; /* filled */
    const char *name;         /* of what was heard */
    struct heard_tick *ticks;
    size_t count, capacity;
    double hum[2]; /* power at 50 and 60 Hz and twice and three times that, dB below a sine at full scale */
    double mains[2][3][2];
    uint64_t samples;
};

/* Draw bands, onsets, beats and levels over time. @return 1, or 0 and it has been said why. */
int hearing_picture(const struct hearing *hearing, const char *path);

#endif
