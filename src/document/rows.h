/* SPDX-License-Identifier: MIT */
/* Documents as rows: one row a key, one table a struct. Reading, writing, the JSON Schema, C source and the reference page of
 * docs/ all walk these. A key that no row can describe names a hook; each walker has its own functions for them. Private to
 * src/document and the tool. */
#ifndef GLANZ_DOCUMENT_ROWS_H
#define GLANZ_DOCUMENT_ROWS_H

#include <stddef.h>

#include "json.h"

enum row_kind {
    ROW_NAME,           /* a name, as glanz_json_name() takes it */
    ROW_FLAG,           /* true or false */
    ROW_TRUE,           /* true: the key says it all */
    ROW_COUNT,          /* a whole number from low to high */
    ROW_CHOICE,         /* which of a list of words */
    ROW_SET,            /* a list of such words: bits */
    ROW_QUANTITY,       /* extra: enum quantity; low to high */
    ROW_COLOR,          /* extra: enum row_color */
    ROW_INDEX,          /* extra: enum scope; which of what has that name */
    ROW_POINTER,        /* extra: enum scope; the address of it */
    ROW_OBJECT,         /* an object; its members lie in the same struct. high: offset of a flag that says it is there, or 0 */
    ROW_OBJECT_POINTER, /* an object; a pointer to its struct */
    ROW_LIST,           /* a list; a pointer to structs, and how many */
    ROW_MAP,            /* the same keyed by name. extra: 1 + the scope that its names are, or 0 */
    ROW_HOOK            /* extra: enum row_hook */
};

enum row_flag {
    ROW_REQUIRED = 1,
    ROW_ALTERNATIVE = 2,     /* just one of the rows of this flag must be there; its `tag` goes into the table's tag member */
    ROW_ASPECT = 4,          /* where it is there, its `tag` is or-ed into the table's tag member; else not written */
    ROW_COMPANION = 8,       /* the member lies in the companion struct */
    ROW_NOT_EMPTY = 16,      /* a list with at least one */
    ROW_ZERO_ONE = 32,       /* 0 is stored as 1, since 0 means that it is not said */
    ROW_ZERO_ALL = 64,       /* the same as all ones */
    ROW_ABSENT_ONE = 128,    /* not said: 1 */
    ROW_ABSENT_ALL = 256,    /* not said: all ones */
    ROW_INVERTED = 512,      /* a flag that is stored the other way round */
    ROW_FROM_ONE = 1024,     /* counted from 1 in documents, from 0 in structs */
    ROW_CONDITIONAL = 2048,  /* whether it is written does not depend on it alone: the writer asks its hook */
    ROW_KEYED = 4096,        /* a map whose keys are names of the scope `extra` - 1; which, is the first byte of each struct */
    ROW_DRIVABLE = 32768,    /* a signal may drive it: an object in its place is a drive */
    ROW_SECONDS = 16384,     /* a time that is stored in whole seconds; its bounds are seconds */
    ROW_PALETTE_SPACE = 8192 /* the list has room for the palettes of the library behind it */
};

/* Colours: names of the show stay names; there are none; names are looked up at once. */
enum row_color { ROW_COLOR_NAMED, ROW_COLOR_PLAIN, ROW_COLOR_LIGHT };

/* What names lead to. */
enum scope {
    SCOPE_CHIPS,
    SCOPE_FONTS,
    SCOPE_EFFECTS,
    SCOPE_SUPPLIES,
    SCOPE_OUTPUTS,
    SCOPE_SURFACES,
    SCOPE_INPUTS,
    SCOPE_SIGNALS, /* inputs of the rig, then signals of the show */
    SCOPE_COLORS,
    SCOPE_LOOKS,
    SCOPE_SEGMENTS,
    SCOPE_PRESETS,
    SCOPE_PLAYLISTS,
    SCOPE_PALETTES, /* of the show, and of the library */
    SCOPE_PICTURES, /* of the show, and of the store */
    SCOPES
};

enum row_hook {
    HOOK_NONE,
    /* keys of a rig */
    HOOK_LOWEST_BLINK,
    HOOK_DEGREES, /* low: 'N' or 'E' */
    HOOK_ORDER,
    HOOK_TRIM,
    HOOK_STRETCH_TRIM, /* the same, unless it follows from a white point */
    HOOK_CURRENT,
    HOOK_RADIUS,
    HOOK_PLACES,
    HOOK_DRAWING,
    /* keys of a show */
    HOOK_DATA,
    HOOK_SKETCH,
    HOOK_SKETCH_COLORS,
    HOOK_EFFECT,
    HOOK_PALETTE,
    HOOK_PALETTE_OF,
    HOOK_CONTENT,
    HOOK_SETTINGS,
    HOOK_BLOCKS,
    HOOK_TEXT,
    HOOK_WORDS, /* names with commas between */
    HOOK_PICTURE,
    HOOK_STENCIL,
    HOOK_PICKED,
    HOOK_PART,
    HOOK_STACK,
    HOOK_THEN,
    HOOK_KIND, /* of an action */
    HOOK_ON,
    HOOK_NUMBERS, /* of a look, that are others on a segment or in a preset */
    HOOK_READS,   /* of an input: what its ends read */
    HOOK_LEVEL,   /* of a signal; low: enum level_of */
    HOOK_PARAM,   /* of an action: which number it changes */
    HOOK_CHANGE,  /* and how; low: enum glanz_change_by */
    HOOK_MOMENT,
    HOOK_DAY,
    HOOK_END,   /* of a drive */
    HOOK_DRIVES /* of a segment, or of the whole: those of their rows that are driven */
};

/* What a level belongs to, which says of which signal it is. */
enum level_of { LEVEL_OF_TRIGGER, LEVEL_OF_MARGIN, LEVEL_OF_CONDITION, LEVEL_OF_DRIVE };

/* What a table wants done before its rows are read, and after. */
enum table_hook {
    TABLE_PLAIN,
    TABLE_RIG,
    TABLE_STRETCH,
    TABLE_HEARING,
    TABLE_OUTPUT,
    TABLE_SURFACE,
    TABLE_PANEL,
    TABLE_COLOR,
    TABLE_PALETTE,
    TABLE_SKETCH,
    TABLE_LOOK,
    TABLE_MARK,
    TABLE_SEGMENT,
    TABLE_WINDOW,
    TABLE_PART,
    TABLE_PLAYLIST,
    TABLE_ACTION,
    TABLE_WHEN,
    TABLE_ENTRY,
    TABLE_SIGNAL,
    TABLE_DRIVE,
    TABLE_SHOW
};

enum table_flag {
    TABLE_FLAT = 1,        /* written on one line */
    TABLE_OPEN = 2,        /* its hook checks the keys */
    TABLE_VALUE = 4,       /* no object: the value is that of its one row */
    TABLE_SHORTHAND = 8,   /* a string in place of the object is the value of its first row */
    TABLE_CONDITIONAL = 16 /* the writer asks which of these it writes at all */
};

struct row {
    const char *key; /* NULL: only its hook knows */
    union {
        const void *refers_to; /* words closed by NULL, or a table */
        int32_t low;
    } arg;
    uint32_t high; /* of a list: at most so many, and in its upper half the offset of the number */
    uint16_t at;   /* offset of the member */
    uint16_t flags;
    uint8_t kind, width, extra, tag; /* width in bytes; 0: bits from `tag` on of a byte */
#if GLANZ_DESCRIPTIONS
    const char *member;          /* as C calls it */
    const char *count_or_prefix; /* the member that counts, or what the words' enumerators begin with */
    const char *description;     /* one line: what it is */
#endif
};

struct companion { /* a second struct of the same index: panels and rings beside their pieces */
    uint16_t at;   /* offset in the parent of the pointer to them */
    uint16_t size;
#if GLANZ_DESCRIPTIONS
    const char *type, *member;
#endif
};

struct table {
    const struct row *rows;
    const struct companion *beside;
    uint16_t size; /* bytes of the struct */
    uint8_t count; /* of rows */
    uint8_t hook, flags;
    uint8_t tag;  /* offset of the member that ROW_ONE and ROW_ASPECT set */
    uint8_t name; /* offset of its name, where it is keyed by one */
#if GLANZ_DESCRIPTIONS
    const char *type;  /* as C calls it */
    const char *title; /* as people do */
    const char
        *tag_member;   /* the member of the tag, and where it has enumerators, what they begin with: "kind = GLANZ_ITEM_" */
    const char *rules; /* JSON Schema of what no row says */
#endif
};

#define ROWS_MOST 26 /* of a table */

/* Words that stand for numbers, closed by NULL. */
extern const char *const glanz_words_blends[];
extern const char *const glanz_words_edges[];
extern const char *const glanz_words_betweens[];
extern const char *const glanz_words_runs[];
extern const char *const glanz_words_events[];    /* what inputs do */
extern const char *const glanz_names_of_events[]; /* the rest of enum glanz_event, which have keys of their own */
extern const char *const glanz_words_corners[];
extern const char *const glanz_words_alongs[];
extern const char *const glanz_words_turns[];
extern const char *const glanz_words_mappings[];
extern const char *const glanz_words_days[];
extern const char *const glanz_words_thens[];
extern const char *const glanz_words_aspects[];
extern const char *const glanz_words_curves[];
extern const char *const glanz_words_yields[];
extern const char *const glanz_words_waves[];
extern const char *const glanz_words_spans[];
extern const char *const glanz_words_combinations[];
extern const char *const glanz_words_states[];
extern const char *const glanz_words_hears[];
extern const char *const glanz_words_ways[];

extern const struct table glanz_table_rig;
extern const struct table glanz_table_show;
extern const struct table glanz_table_action;
extern const struct table glanz_table_trigger;
#define HOUR 3600000u /* milliseconds */
#define DAY_LONG 86400000u
/* What stands in place of a number of a look that follows a signal. */
extern const struct table glanz_table_drive;
#define DRIVE_SMOOTH_MS 60u /* its half-lives, where nothing is said */
/* Can a parameter be driven, by its description? */
#define IS_DRIVABLE(param)                                                                                                     \
    ((param)->kind == GLANZ_PARAM_RATE || (param)->kind == GLANZ_PARAM_COLOR || (param)->kind == GLANZ_PARAM_TURN ||           \
     (((param)->kind == GLANZ_PARAM_LENGTH || (param)->kind == GLANZ_PARAM_SHARE) &&                                           \
      (param)->change != GLANZ_CHANGE_CROSSFADES))
/* Which parameter an action means, by its name and, unless ANY_KIND, its kind: the first of the show's looks that
 * has it; NULL. */
GLANZ_CONST struct glanz_param *glanz_rows_param(GLANZ_CONST struct glanz_show *show, const char *name, uint8_t kind);
/** By enum glanz_color_number: as "hue of color" begins, and what such a number is; the first is of no use. */
extern const struct color_number {
    const char *before;
    struct glanz_param param;
} glanz_color_numbers[4];
#define ANY_KIND 255u
/* What goes with each value of enum glanz_action_value; no keys. */
extern const struct row glanz_rows_of_values[];
/* What a look shows, by enum glanz_content_kind. A size of 0: the struct is the look itself. */
extern const struct table *const glanz_tables_of_contents[];

/* The scopes of a rig and a show; either may be NULL. */
void glanz_names_of(struct names *scopes, GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show);

/* ---- members ---- */

uint32_t glanz_row_get(const struct row *row, const void *base);
void glanz_row_set(const struct row *row, void *base, uint32_t number);
/* Which struct of the two a row is in. */
#define ROW_STRUCT(row, base, beside) (((row)->flags & ROW_COMPANION) != 0 ? (beside) : (base))
#define ROW_COUNT_MOST(row) ((int)((row)->high & 0xFFFFu))
/* How many a list has. */
uint32_t glanz_row_count(const struct row *row, const void *base);
/* The structs of a list. */
const void *glanz_row_list(const struct row *row, const void *base);

/* ---- how rows are written down; OF is the struct, BESIDE its companion ---- */

#if GLANZ_DESCRIPTIONS
#define ROW_WORDS(member, also, what) , #member, also, what
#define TABLE_WORDS(type, title, tagged, rules) , type, title, tagged, rules
#else
#define ROW_WORDS(member, also, what)
#define TABLE_WORDS(type, title, tagged, rules)
#endif
/* The bytes of a whole number; no other type will do. */
#define ROW_WIDTH(member) _Generic(((OF *)0)->member, uint8_t : 1, uint16_t : 2, uint32_t : 4)
#define ROW_AT(member) (uint16_t) offsetof(OF, member)

#define NAME(key, member, flags, what)                                                                                         \
    {                                                                                                                          \
        key, {NULL}, 0, ROW_AT(member), flags, ROW_NAME, _Generic(((OF *)0)->member, const char * : 0), 0,                     \
            0 ROW_WORDS(member, NULL, what)                                                                                    \
    }
#define FLAG(key, member, flags, what)                                                                                         \
    { key, {NULL}, 1, ROW_AT(member), flags, ROW_FLAG, ROW_WIDTH(member), 0, 0 ROW_WORDS(member, NULL, what) }
#define COUNT(key, member, least, most, flags, what)                                                                           \
    { key, {.low = least}, most, ROW_AT(member), flags, ROW_COUNT, ROW_WIDTH(member), 0, 0 ROW_WORDS(member, NULL, what) }
#define CHOICE(key, member, words, flags, prefix, what)                                                                        \
    { key, {words}, 0, ROW_AT(member), flags, ROW_CHOICE, ROW_WIDTH(member), 0, 0 ROW_WORDS(member, prefix, what) }
#define SET(key, member, words, flags, what)                                                                                   \
    { key, {words}, 0, ROW_AT(member), flags, ROW_SET, ROW_WIDTH(member), 0, 0 ROW_WORDS(member, NULL, what) }
#define QUANTITY(key, member, kind, least, most, flags, what)                                                                  \
    { key, {.low = least}, most, ROW_AT(member), flags, ROW_QUANTITY, ROW_WIDTH(member), kind, 0 ROW_WORDS(member, NULL, what) }
#define COLOR(key, member, kind, flags, what)                                                                                  \
    { key, {NULL}, 0, ROW_AT(member), flags, ROW_COLOR, ROW_WIDTH(member), kind, 0 ROW_WORDS(member, NULL, what) }
#define INDEX(key, member, scope, flags, what)                                                                                 \
    { key, {NULL}, 0, ROW_AT(member), flags, ROW_INDEX, ROW_WIDTH(member), scope, 0 ROW_WORDS(member, NULL, what) }
#define POINTER(key, member, type, scope, flags, what)                                                                         \
    {                                                                                                                          \
        key, {NULL}, 0, ROW_AT(member), flags, ROW_POINTER, _Generic(((OF *)0)->member, const type * : 0), scope,              \
            0 ROW_WORDS(member, NULL, what)                                                                                    \
    }
#define OBJECT(key, table, flags, what)                                                                                        \
    { key, {&(table)}, 0, 0, flags, ROW_OBJECT, 0, 0, 0 ROW_WORDS(, NULL, what) }
#define OBJECT_POINTER(key, member, type, table, flags, what)                                                                  \
    {                                                                                                                          \
        key, {&(table)}, 0, ROW_AT(member), flags, ROW_OBJECT_POINTER, _Generic(((OF *)0)->member, const type * : 0), 0,       \
            0 ROW_WORDS(member, NULL, what)                                                                                    \
    }
#define LIST_OF(key, member, type, number, table, most, kind, extra, flags, what)                                              \
    {                                                                                                                          \
        key, {&(table)}, (uint32_t)(most) | (uint32_t)offsetof(OF, number) << 16, ROW_AT(member), flags, kind,                 \
            ROW_WIDTH(number) + _Generic(((OF *)0)->member, const type * : 0), extra, 0 ROW_WORDS(member, #number, what)       \
    }
#define LIST(key, member, type, number, table, most, flags, what)                                                              \
    LIST_OF(key, member, type, number, table, most, ROW_LIST, 0, flags, what)
#define MAP(key, member, type, number, table, most, scope, flags, what)                                                        \
    LIST_OF(key, member, type, number, table, most, ROW_MAP, (scope) + 1, flags, what)
#define HOOK(key, member, hook, flags, what)                                                                                   \
    { key, {NULL}, 0, ROW_AT(member), flags, ROW_HOOK, 0, hook, 0 ROW_WORDS(member, NULL, what) }

/* A level, as levels.c reads it. */
#define LEVEL_ROW(key, member, of, flags, tag, what)                                                                           \
    {                                                                                                                          \
        key, {.low = of}, 65536, ROW_AT(member), flags, ROW_HOOK, ROW_WIDTH(member), HOOK_LEVEL,                               \
            tag ROW_WORDS(member, NULL, what)                                                                                  \
    }

/* A table with more rows than a frame has tokens for does not compile. */
#define ROWS_OF(rows)                                                                                                          \
    ((uint8_t)(sizeof(rows) / sizeof((rows)[0]) + 0 * sizeof(char[sizeof(rows) / sizeof((rows)[0]) <= ROWS_MOST ? 1 : -1])))
#define TABLE_ROWS(rows) rows, NULL, sizeof(OF), ROWS_OF(rows)

#endif
