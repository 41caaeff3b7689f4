/* SPDX-License-Identifier: MIT */
/* What was heard in a sound, tick by tick; for the command "hear" and its picture. */
#ifndef GLANZ_TOOL_HEARING_H
#define GLANZ_TOOL_HEARING_H

#include <glanz/sound.h>

struct heard_tick {
    struct glanz_heard heard; /* `band` and times are not to be used: they are lent, and wrap */
    double end;               /* s, when its last sample was taken */
    double onset[GLANZ_RANGES], last_beat;
    uint16_t band[GLANZ_BANDS_MOST];
    uint8_t begun; /* bits: an onset of this range began */
    uint8_t beat;
};

struct hearing {
    struct glanz_hearing how; /* filled */
    const char *name;         /* of what was heard */
    struct heard_tick *ticks; /* all, if `keeps_all`; else those that are not told yet, and the one before */
    size_t count, capacity;
    size_t told; /* of them */
    int keeps_all;
    uint64_t time_us;            /* of the newest tick */
    uint64_t all, silent;        /* ticks, of all and of those that were silent */
    double power;                /* summed */
    int16_t peak_cdb, quiet_cdb; /* the largest, and the quietest once it settled; quiet_cdb 0: not yet */
    double hum[2];               /* power at 50 and 60 Hz and twice and three times that, dB below a sine at full scale */
    double mains[2][3][2];
    uint64_t samples;
};

/* Draw bands, onsets, beats and levels over time. @return 1, or 0 and it has been said why. */
int hearing_picture(const struct hearing *hearing, const char *path);

#endif
