/* SPDX-License-Identifier: MIT */
/* Input logs: JSON lines, each with a time and one thing that comes in at it. */
#ifndef GLANZ_TOOL_LOG_H
#define GLANZ_TOOL_LOG_H

#include "files.h"

enum entry_kind {
    ENTRY_INPUT,    /* {"at": "1.25 s", "input": "visitor button", "level": 1}: a raw edge, or a value 0 to 65535 */
    ENTRY_PRESS,    /* {"at": "2 s", "press": "visitor button", "for": "80 ms"}: a press that bounces as a switch does */
    ENTRY_PATCH,    /* {"at": "3 s", "patch": {...}}: a merge patch for the show */
    ENTRY_SAVE,     /* {"at": "4 s", "save": "my evening"}; with "segments": [...], "aspects": [...] a part; "replace": true */
    ENTRY_RECALL,   /* {"at": "5 s", "recall": "my evening"} */
    ENTRY_TRY_RIG,  /* {"at": "6 s", "try rig": "other.json", "for": "30 s"} */
    ENTRY_CLOCK,    /* {"at": "0 s", "clock": "2026-06-20 21:40:00"}: the time of day, local */
    ENTRY_FORGET,   /* {"at": "5 s", "forget": "my evening"} */
    ENTRY_POWER,    /* {"at": "6 s", "power cut": "3 s"}: off for so long, in the middle of whatever is under way */
    ENTRY_DO,       /* {"at": "5 s", "do": {"recall": "evening"}}: an action as triggers have them */
    ENTRY_RENAME,   /* {"at": "5 s", "rename": "my evening", "as": "ours"} */
    ENTRY_COPY,     /* {"at": "5 s", "copy": "my evening", "as": "ours"} */
    ENTRY_MOVE,     /* {"at": "5 s", "move": "my evening", "place": 1}: to this place of the order, from 1 */
    ENTRY_KEEP_RIG, /* {"at": "7 s", "keep rig": true} */
    ENTRY_TURN,     /* {"at": "2 s", "turn": "brass dial", "to": "120 deg", "over": "2 s"}: by a hand, read as hardware does */
    ENTRY_HEAR      /* {"at": "2 s", "hear": "microphone", "file": "stroke.wav"} */
};

struct log_key {
    const char *key, *schema; /* JSON Schema of its value */
};
struct log_kind { /* one row a kind of entry */
    struct log_key own;
    uint16_t needs, may; /* bits of log_withs that go with it */
};
extern const struct log_kind log_kinds[]; /* by enum entry_kind, closed by a key of NULL */
extern const struct log_key log_withs[];  /* closed by a key of NULL */

struct entry {
    uint64_t at_us;
    enum entry_kind kind;
    char name[256]; /* input, preset, or file */
    uint16_t level;
    uint64_t for_us; /* "for" or "over" */
    int64_t to;      /* 65536 is all of it, or a turn */
    uint8_t by;      /* 1: from where it is */
    uint8_t angle;   /* 1: said in degrees */
    char as[256];
    char segments[16][64]; /* that are saved */
    uint8_t segment_count; /* 0: all */
    uint8_t aspects;       /* 0: all */
    uint8_t replace;
    uint8_t place;
    struct text patch;
    struct text source; /* the line itself */
    unsigned line;
};

/* "2026-06-20 21:40:00", a day that there is: days since 1970 and the second of the day. @return 0 for anything else. */
int clock_parse(uint32_t *day, uint32_t *second, const char *text);

struct log {
    struct entry *entries; /* in order of time */
    size_t count;
};

/* Read a log. On failure the fault tells the line and what was expected, and nothing is kept. Times must not fall. */
glanz_status log_read(struct log *log, const char *bytes, size_t count, struct glanz_fault *fault);
void log_free(struct log *log);

#endif
