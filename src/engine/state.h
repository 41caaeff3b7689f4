/* SPDX-License-Identifier: MIT */
/* The engine's own memory. Private to src/engine.
 *
 * Invariants: a segment has 1 to GLANZ_FADES looks at once, oldest first in `order`, the newest last; one more may wait, of
 * which only what was asked for is kept. All segments together have at most `fading_most` looks beyond one each: a layer is
 * free for every segment that may still begin. Base shares of all but the newest are 0 to 65536 and never all 0. The clock
 * never runs back. */
#ifndef GLANZ_ENGINE_STATE_H
#define GLANZ_ENGINE_STATE_H

#include <glanz/engine.h>

#define NONE 255
#define SPREAD_MOVES 128u /* beside enum glanz_step: its palette moves on */
#define LEAVE_MS 100u     /* the weakest of too many looks is let go in this time */

#if GLANZ_OUTPUTS_MOST == 1 /* loops over one are none */
#define OUTPUT_COUNT(rig) 1u
#else
#define OUTPUT_COUNT(rig) ((rig)->output_count)
#endif
#if GLANZ_SUPPLIES_MOST == 1
#define SUPPLY_COUNT(rig) 1u
#define SUPPLY_OF(output) 0u
#else
#define SUPPLY_COUNT(rig) ((rig)->supply_count)
#define SUPPLY_OF(output) ((output)->supply)
#endif

/* A current, as the limit reckons with it. Of one supply, as on the smallest CPUs, in 16 bits. */
#if GLANZ_SUPPLIES_MOST == 1
typedef uint16_t current;
#define CURRENT_UA 125u /* of one unit: 8.19 A in all */
#define CURRENT_MOST 65535u
#define current_times(current, gain) glanz_gain16(current, gain)
#else
typedef uint32_t current;
#define CURRENT_UA 1u
#define CURRENT_MOST 0xFFFFFFFFu
#define current_times(current, gain) glanz_times(current, gain)
#endif

struct timer { /* time that passes: how much of a span is done. Above the span: it begins in 2^32 - done_us from now */
    uint32_t done_us, span_us;
};

struct ramp { /* a number on its way */
    struct timer timer;
    uint16_t from, to;
};

struct asked { /* a look as it was asked for */
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_effect *effect;     /* NULL: dark */
    GLANZ_CONST struct glanz_gradient *gradient; /* never NULL */
    GLANZ_CONST void *content;
    uint16_t brightness; /* lightness */
    uint8_t unit[GLANZ_PARAMS];
    int32_t number[GLANZ_PARAMS];
#if GLANZ_DRIVES_MOST > 0
    GLANZ_CONST struct glanz_drive *drives;
    uint8_t drive_count;
    uint16_t held; /* drives against which a hand holds a number, as bits */
#endif
};

enum changed { CHANGED_NUMBERS = 1, CHANGED_PACE = 2, CHANGED_ALL = 3 };

struct motion {     /* by a rate */
    uint64_t phase; /* laps: 16.48, the upper half signed */
    int64_t pace;   /* laps a microsecond, 48 fractional bits */
};

#if GLANZ_FIELDS
struct spread {     /* where a palette runs on a segment */
    uint64_t phase; /* runs: 16.48 */
    uint64_t pace;  /* runs a microsecond, 48 fractional bits */
    uint32_t scale; /* runs a point, 0.32 */
    uint16_t columns, rows;
    uint16_t times; /* round once */
    uint8_t closed;
};
#endif

struct layer { /* a look as it is seen on a segment */
    struct motion motion[GLANZ_RATES];
    GLANZ_CONST struct glanz_effect *effect; /* NULL: dark. From here on it is filled anew with another look */
    uint32_t lead_us; /* it begins, or its new numbers do, so long after the engine's clock, within the frame that follows */
    uint32_t share;   /* weight when the newest came, 0 to 65536 */
    uint32_t weight;  /* this frame's part of what lies up to here: 65536 for the first */
    int32_t rate[GLANZ_RATES]; /* of its rate parameters, as asked for; 0 without one */
    uint8_t rate_unit[GLANZ_RATES];
#if GLANZ_RATES > 1
    uint8_t rates; /* how many it has */
#endif
    uint16_t brightness; /* lightness of this frame */
    uint8_t taken;       /* a segment has it */
    uint8_t moves;
    uint8_t changed; /* enum changed: pace and step anew */
    uint8_t jumps;   /* the pace changes at once, when lead_us is over */
#if GLANZ_DRIVES_MOST > 0
    uint8_t paced; /* rates that are driven, as bits */
    uint16_t held; /* drives against which a hand holds a number, as bits; and those that come back */
    uint16_t returning;
    uint8_t drive_count;
    GLANZ_CONST struct glanz_drive *drives;
#endif
#if GLANZ_FIELDS
    uint8_t anew;                                   /* takes over nothing that another look of its effect remembers */
    GLANZ_CONST struct glanz_spread_calls *spreads; /* its palette runs by place or time; NULL: as the effect has it */
#endif
    struct glanz_frame frame; /* large things last: small CPUs reach the first 64 bytes of a struct best */
#if GLANZ_FIELDS
    struct spread spread;
#endif
};

#if GLANZ_GLIDES
struct numbers { /* of a look, as an effect sees them */
    uint16_t brightness;
    struct glanz_light color[GLANZ_COLORS];
    int32_t number[GLANZ_PARAMS];
};

struct glide {                 /* of one look of a segment: the newest, when it began */
    struct timer timer;        /* span 0: none */
    int64_t pace[GLANZ_RATES]; /* before */
    uint32_t done;             /* at this frame, 0 to 65536 */
    struct layer *layer;
    struct numbers from, to;
};
#endif

#if GLANZ_DRIVES_MOST > 0
#define GLANZ_DRIVES_EACH (GLANZ_PARAMS + 1) /* of a look: its parameters and its brightness */

struct drive_state {                    /* of a drive that shows, on whatever segments */
    GLANZ_CONST struct glanz_drive *of; /* NULL: free. It may be gone where no look has it */
    uint32_t at_us;                     /* while it moves: the engine's clock, 32 bits of it, up to which it has come */
    uint32_t done;                      /* of the way, 0 to 65536, times GLANZ_APPROACH_FINE */
    uint32_t target;                    /* the same, where it is to go, as its signal was when `renew` was 0 */
    uint32_t mean; /* over the last frame, 0 to 65536; while it is summed, the sum of done * 16 us since the last frame */
    uint16_t rise_ms, fall_ms;
    uint8_t signal;
    uint8_t turns; /* it goes round with its signal */
    uint8_t moves;
    uint8_t summed; /* its signal changed within the frame to come */
    uint8_t renew;  /* its signal has changed since `target` */
    uint8_t fresh;  /* it has not been through a frame yet */
    uint16_t kind;  /* what it follows, and how: another that does so alike goes on where it is */
};

struct driven {                          /* of a layer */
    int64_t unit[GLANZ_RATES];           /* laps a microsecond at a rate of 1 a second, 48 fractional bits; 0: not known */
    int64_t pace[GLANZ_RATES];           /* mean of this frame */
    struct timer back;                   /* of drives that come back */
    uint16_t held_at[GLANZ_DRIVES_EACH]; /* where the drive was when it was set by hand, of 65536 */
    uint16_t noted;                      /* bits of those that are known */
    uint8_t state[GLANZ_DRIVES_EACH];    /* where the state of each drive was found last */
};
#endif

#define SEGMENT_IS_MASKED 128u
#define SEGMENT_IS_SHEER ((unsigned)GLANZ_NEEDS_COVER | SEGMENT_IS_MASKED)

/* Shorter ways for what is most common, where flash is not scarcer than time. */
#if defined(__AVR__) || defined(__OPTIMIZE_SIZE__)
#define SHORT_WAYS 0
#else
#define SHORT_WAYS 1
#endif

enum opaque {
    SEGMENT_IS_NOT_OPAQUE,
    SEGMENT_IS_OPAQUE, /* it hides all that lies under it */
    SEGMENT_IS_SIMPLE, /* and is a plain line of LEDs with one look for lines */
    SEGMENT_IS_DIMMED  /* and that is dimmed */
};

/* What frames to come bring to a segment before something is asked of the engine. */
enum course {
    COURSE_OPEN,
    COURSE_RESTS,      /* nothing */
    COURSE_RUNS,       /* its one look's phase runs on */
    COURSE_DRIVEN = 4, /* or-ed: that, while its drives are at rest */
    COURSE_NONE = 255
};

struct segment {
    GLANZ_CONST struct glanz_segment *is;
    uint16_t first; /* on its surface */
    uint16_t leds;
    uint16_t length;
#if GLANZ_SEGMENTS_MOST > 8
    uint16_t reach; /* the farthest end of all segments on its surface that begin before it, or with it */
#endif
#if GLANZ_SEGMENTS_MOST > 8 || GLANZ_FIELDS
    uint8_t rank; /* in the stack, from the bottom */
#endif
    uint8_t surface;
    uint8_t closed;
#if GLANZ_FIELDS
    uint8_t needs;  /* enum glanz_need of all its looks, or-ed; and SEGMENT_IS_MASKED */
    uint8_t plane;  /* one of them is for fields */
    uint8_t masked; /* SEGMENT_IS_MASKED: the one right above it in the stack is a mask, or it is one */
    struct glanz_field field;
#endif
    uint8_t on;
    uint8_t count;                    /* looks at once */
    uint8_t leaving;                  /* index into order, or NONE */
    uint8_t waiting;                  /* 1: what was asked for comes in as soon as there is room for it */
    uint8_t again;                    /* that takes over nothing of what is there */
    struct layer *order[GLANZ_FADES]; /* of the engine's layers */
    uint32_t waiting_ms;
    struct asked asked; /* the newest look, or the one that waits */
    uint16_t lit_from;  /* lightness of what is not dark, when the newest look came */
    struct timer fade, leave;
    uint8_t stale;  /* a ramp was set: opacity and gain anew */
    uint8_t opaque; /* enum opaque, of this frame */
#if GLANZ_SEGMENTS_MOST > 8
    uint8_t course; /* enum course */
#endif
    struct ramp brightness; /* lightness */
    struct ramp presence;   /* 0 off, 65535 on */
    struct ramp cover;      /* opacity as the show says */
    uint32_t opacity;       /* this frame's, presence and all, 0 to 65536 */
    uint32_t gain;          /* this frame's, 0 to 65536 */
#if GLANZ_GLIDES
    struct glide *glide; /* NULL where nothing glides */
#endif
};

struct output {
    uint8_t *bytes[2];
    uint8_t *remainders;
    uint32_t size;
    uint8_t back;        /* which of bytes is shaded into; both the same buffer when there is one */
    uint8_t clocked;     /* its LEDs latch one after another */
    uint8_t ration;      /* enum glanz_ration of the newest pass */
    uint32_t gain;       /* of the newest pass: brightness, and what the limit leaves of it; 0 to 65536 */
    current idle;        /* the rest is above it */
    uint32_t dearest_ua; /* of all its channels, fully on */
    current step;        /* one chip step of that, rounded up */
    current steps;       /* one chip step of every channel of every LED */
    current shown;       /* lit now, at most */
    current drawn;       /* of the newest frame, at most */
    current light;       /* of the newest pass at full gain, from its exact light; 0 where nothing is counted */
    current before;      /* the same of the frame before */
    current fell, rose;  /* what the frame before had changed */
    current expected;    /* what the coming frame's is expected to be */
    current cap;         /* rationed: what it may draw */
};

enum binds { BINDS_UNKNOWN, BINDS_NEVER, BINDS_PERHAPS };
struct supply {
    uint32_t gain;  /* of the newest frame, for outputs that nothing holds back */
    current margin; /* kept free for light that was not expected */
    uint8_t ration; /* of its outputs in the newest pass */
#ifndef __AVR__
    uint8_t binds; /* enum binds: can its limit ever bind? */
#endif
};

#if GLANZ_FIELDS
struct pool { /* memory of effects, blocks one after another; those of layers that have gone are taken back when room is wanted
               */
    uint8_t *bytes;
    uint32_t size, used;
};
#endif

#define LEVEL_KNOWN 0x40000000u   /* it was told */
#define LEVEL_EVEN 0x20000000u    /* it went there evenly, all through a frame */
#define LEVEL_STEPPED 0x10000000u /* it was told within the frame to come */

struct pulse {      /* what a signal has done that effects react to */
    uint32_t at_us; /* when it rose last, on the engine's clock */
    uint16_t count; /* how often it has */
};

struct glanz_engine {
    GLANZ_CONST struct glanz_parts *parts;
    GLANZ_CONST struct glanz_rig *rig;
    void (*blend)(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                  enum glanz_blend blend, uint32_t opacity); /* NULL: every segment hides what is under it */
    GLANZ_CONST struct glanz_fades_calls *fades;             /* once a look has changed; NULL before: no segment has two */
    GLANZ_CONST uint8_t *stack;
    GLANZ_CONST struct glanz_named_color *names;
    struct segment *segments;
    struct layer *layers; /* one for each segment, and those that may fade beside them */
#if GLANZ_SEGMENTS_MOST > 8
    uint8_t *sorted; /* their indices, by surface and first LED */
#endif
    struct output *outputs;
    struct supply *supplies;
    glanz_painter painter;
    void *painter_user;
    glanz_us clock;
    uint32_t interval_us; /* mean time between shaded frames */
    uint32_t extra_passes;
    uint32_t gain; /* of the whole, this frame's, 0 to 65536 */
    struct ramp brightness;
    struct glanz_dither dither;
#if GLANZ_SEQUENCES
    void (*own_time)(struct glanz_engine *engine, uint32_t elapsed); /* see freeze.c; NULL until something was frozen */
    uint32_t own_us;                                                 /* of this frame, as effects see it; from then on */
    uint32_t own_next, own_from;                                     /* so much of the next is counted, up to there */
    uint8_t frozen;
#endif
#if GLANZ_FIELDS
    GLANZ_CONST struct glanz_fields_calls *fields; /* of that part; NULL without it */
    struct pool pool;
    struct glanz_world world;
    void (*tell_time)(struct glanz_engine *engine, uint32_t elapsed); /* it goes on; NULL until it was told */
#endif
#if GLANZ_FIELDS || GLANZ_DRIVES_MOST > 0
#if GLANZ_DRIVES_MOST > 0
    struct pulse *pulses; /* of every signal; NULL without the part for drives */
#endif
    uint32_t *levels; /* of every signal, with GLANZ_LEVEL_TURN and LEVEL_KNOWN */
    uint16_t level_count;
#endif
#if GLANZ_DRIVES_MOST > 0
    GLANZ_CONST struct glanz_drives_calls *drive_calls; /* of that part; NULL without it */
    struct drive_state *drives;                         /* GLANZ_DRIVES_MOST */
    struct driven *driven;                              /* one a layer */
    struct glanz_decay decay[2];                        /* of what rises, and of what falls */
    GLANZ_CONST struct glanz_drive *whole;              /* what dims the whole; NULL */
    uint32_t whole_gain;                                /* by so much in this frame, 0 to 65536 */
    uint8_t drives_awake;                               /* bit 0: in this frame some are on their way; bit 1: in the next */
#endif
    uint16_t name_count;
    uint8_t segment_capacity, segment_count;
#ifndef __AVR__                  /* as many as can be there */
    uint8_t fading, fading_most; /* looks beyond one a segment, now and at the most; 0 at the most: none changes */
    uint8_t fading_wanted;       /* as it was started */
#endif
    uint8_t dirty;    /* something changed from outside */
    uint8_t moving;   /* something changes by itself */
    uint8_t restless; /* dither alone changes the next frame */
    uint8_t pure;     /* nothing has changed since the dither period began */
    uint8_t paused;   /* the last frame was not shaded: a new period begins with the next */
    uint8_t started;  /* a frame was shaded */
    uint8_t unsent;   /* the newest frame is not being sent yet */
#ifndef __AVR__
    uint8_t inside; /* in a call that asks effects or the painter: they may not change anything */
#endif
};

#ifdef __AVR__
#define HAS_LAYER(engine) ((void)(engine), 1)
#define NONE_FADES(engine) ((void)(engine), 0)
#define COUNT_FADING(engine, by) ((void)(engine))
#define FADING_WANTED(engine) 0
#else
#define HAS_LAYER(engine) ((engine)->fading < (engine)->fading_most)
#define NONE_FADES(engine) ((engine)->fading_most == 0)
#define COUNT_FADING(engine, by) ((engine)->fading = (uint8_t)((engine)->fading + (by)))
#define FADING_WANTED(engine) ((engine)->fading_wanted)
#endif

#ifdef __AVR__ /* nobody asks there: flash and RAM are too scarce */
#define IS_INSIDE(engine) 0
#define SET_INSIDE(engine, is) ((void)(engine))
#else
#define IS_INSIDE(engine) ((engine)->inside)
#define SET_INSIDE(engine, is) ((engine)->inside = (is))
#endif

/* What the part for fields does for the others: nothing of it is there without it. */
struct run_places;
struct strip_run;
struct overlapping;
struct glanz_fields_calls {
    /* Work out what a segment sees of its surface. */
    void (*lay)(struct segment *segment, GLANZ_CONST struct glanz_surface *surface);
    /* Where the LEDs of a run stand in it. @return how many of them it takes. */
    uint8_t (*find_run_places)(struct run_places *run_places, const struct glanz_engine *engine, const struct segment *segment,
                               const struct strip_run *run, uint8_t count);
    /* Lay a look over the light that tells by itself what it covers, or that masks lie over. @param places room. @param at its
     * segment's index among those that overlap. @return the index of the last of its masks, or `at`. */
    uint8_t (*compose_sheer)(struct glanz_light *light, struct glanz_light *over, struct glanz_light *spare,
                             struct run_places *places, const struct glanz_engine *engine,
                             const struct overlapping *overlapping, uint8_t at, const struct strip_run *run, uint8_t count);
    /* Segments are laid out: what effects may know of the rig, and which segments are masks or lie right below one. */
    void (*begin)(struct glanz_engine *engine);
    /* Memory for the newest look, with what another look of the same effect remembers. */
    void (*remember)(struct glanz_engine *engine, struct segment *segment);
    /* Is there memory for a look beside what the other segments' looks hold? */
    int (*fits)(const struct glanz_engine *engine, const struct segment *segment, GLANZ_CONST struct glanz_look *look);
    /* A look's palette may run by place or time. */
    void (*spread)(struct layer *layer, const struct segment *segment);
    /* Lay light over other light, where it does not cover every LED. */
    void (*blend)(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                  enum glanz_blend blend, uint32_t opacity);
#if GLANZ_RATES > 1
    /* The phase of a look's second rate goes on. @return 1 while it moves. */
    uint8_t (*second)(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer, uint8_t gliding,
                      uint32_t elapsed);
#endif
};
/* What a look does whose palette runs by place or time. */
struct glanz_spread_calls {
    /* Its phase goes on, and its effect's step, if that is due. @return what that tells, and SPREAD_MOVES. */
    uint8_t (*step)(struct layer *layer, uint32_t elapsed, uint8_t due);
    void (*shade)(struct glanz_light *light, uint16_t *cover, const struct layer *layer, const struct run_places *run_places,
                  uint8_t count);
};
/* What drives do for the others: nothing of it is there without them. */
#if GLANZ_DRIVES_MOST > 0
struct glanz_drives_calls {
#if GLANZ_FIELDS
    /* A signal has another level: has it risen above its half, or gone on past its zero? */
    void (*pulse)(struct glanz_engine *engine, uint8_t signal, uint32_t before, uint32_t level, uint32_t lead, uint32_t over);
    /* What an effect that reacts to a signal is told of it. */
    void (*tell)(const struct glanz_engine *engine, struct layer *layer);
#endif
    /* Memory for the levels of all signals, and what drives remember; laid out where the levels begin. */
    size_t (*size)(GLANZ_CONST struct glanz_rig *rig, uint8_t layers);
    void (*start)(struct glanz_engine *engine);
    /* Lay a look's drives over its numbers. @return 1 while they may change. */
    uint8_t (*apply)(struct glanz_engine *engine, struct segment *segment, struct layer *layer, uint32_t elapsed,
                     uint8_t gliding);
    /* A look comes into a layer: its drives, and what belongs to none is forgotten. */
    void (*begin)(struct glanz_engine *engine, struct layer *layer, const struct asked *asked);
    /* A signal is about to have another level, so long after the engine's clock. */
    void (*follow)(struct glanz_engine *engine, uint8_t signal, uint32_t lead);
    /* It was told for the first time. */
    void (*set)(struct glanz_engine *engine, uint8_t signal);
    /* From now on a hand holds a look's numbers against these drives; against others no more. */
    void (*let_go)(struct glanz_engine *engine, struct layer *layer, uint16_t held);
    /* Dim a segment, or with NULL the whole, after its ramps. @return 1 while that may change. */
    uint8_t (*dim)(struct glanz_engine *engine, struct segment *segment, uint32_t elapsed);
    /* A hand has set a parameter: which drives hold still. */
    void (*hold)(struct asked *asked, uint8_t param);
};
#define DRIVES(engine) ((engine)->drive_calls)
#endif

#if GLANZ_FIELDS
#define FIELDS(engine) ((engine)->fields)
#else
#define FIELDS(engine) ((void)(engine), (GLANZ_CONST struct glanz_fields_calls *)NULL)
#endif

/* Move every segment to the engine's clock; `elapsed` microseconds since the last call. */
void glanz_segments_advance(struct glanz_engine *engine, uint32_t elapsed);
/* Which segments hide what lies under them, where something was asked since the last frame. */
void glanz_segments_find_opaque(struct glanz_engine *engine);

/* What a stretch asks of its chip. What the chip keeps along the line stays. @param trims gains before brightness. */
void glanz_output_begin_stretch(struct glanz_put *put, uint32_t *gains, uint32_t *trims, uint32_t *weights,
                                const struct output *output, GLANZ_CONST struct glanz_output *is,
                                GLANZ_CONST struct glanz_stretch *stretch);
/* Shade one output into the bytes that are not shown, at its gain and ration. */
void glanz_output_shade(struct glanz_engine *engine, uint8_t index);
/* Every LED of an output fully on; and what so much light draws at its gain at the most, with every byte rounded up. */
current glanz_output_full(const struct output *output);
current glanz_output_most(const struct output *output, current light);

/* How much of a timer is done, 0 to 65536; how long until it ends; a timer moved on, in place or as a copy. */
uint32_t glanz_timer_part(const struct timer *timer);
uint32_t glanz_timer_rest(const struct timer *timer);
void glanz_timer_advance(struct timer *timer, uint32_t elapsed);
struct timer glanz_timer_at(struct timer timer, uint32_t lead);
/* A timer that begins `lead` from now and runs for at most 66 minutes. */
struct timer glanz_timer_of(uint32_t over_ms, uint32_t lead);

/* Send a ramp to another value; move it on. @return 1 while it is on its way. */
void glanz_ramp_to(struct ramp *ramp, uint16_t to, uint32_t over_ms, uint32_t lead);
uint8_t glanz_ramp_advance(struct ramp *ramp, uint32_t elapsed);
/* A ramp's value now, and whether it is still on its way. */
uint16_t glanz_ramp_now(const struct ramp *ramp);
int glanz_ramp_runs(const struct ramp *ramp);
/* A ramp of lightness as the gain it stands for, 0 to 65536. */
uint32_t glanz_ramp_gain(const struct ramp *ramp);

/* A look, and what it leaves to its effect, as it is asked for. NULL: dark. */
void glanz_ask(struct asked *asked, GLANZ_CONST struct glanz_look *look);
/* Numbers, colours and rate of a look as they are asked for, with no glide. */
void glanz_layer_settle(struct glanz_engine *engine, struct layer *layer, const struct asked *asked);
/* What a segment is asked for, as an effect sees it; the phase stays. */
void glanz_layer_fill(struct glanz_engine *engine, const struct segment *segment, struct layer *layer, uint32_t lead);
#if GLANZ_DRIVES_MOST > 0
/* The number of a drive into a look as its effect sees it. @param part of it; the rest is what was asked for, or where that
 * glides.
 * @return enum changed. */
uint8_t glanz_drive_lay(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer,
                        GLANZ_CONST struct glanz_drive *drive, const struct drive_state *state, uint32_t part, uint8_t gliding);
#if GLANZ_FIELDS
/* ---- pulses.c; as in struct glanz_drives_calls ---- */
void glanz_pulse(struct glanz_engine *engine, uint8_t signal, uint32_t before, uint32_t level, uint32_t lead, uint32_t over);
void glanz_pulse_tell(const struct glanz_engine *engine, struct layer *layer);
#endif
/* A number between a drive's ends. @param done 0 to 65536. */
int32_t glanz_drive_number(GLANZ_CONST struct glanz_drive *drive, uint32_t done);
/* A driven rate turns the phase by its mean over the frame. */
void glanz_drive_lay_rate(const struct glanz_engine *engine, const struct segment *segment, struct layer *layer,
                          GLANZ_CONST struct glanz_drive *drive, const struct drive_state *state, uint32_t part,
                          uint8_t gliding);
#endif
/* A number as an effect sees it: lengths in points. */
int32_t glanz_number_seen(GLANZ_CONST struct glanz_param *param, int32_t number, uint8_t unit, uint16_t length);
/* How far a motion has come, as the effect sees it. */
static inline void glanz_motion_tell(struct layer *layer, uint8_t which) {
    uint32_t high = (uint32_t)(layer->motion[which].phase >> 32);
    uint16_t laps = (uint16_t)(high >> 16);
    if (laps > 16384 && laps < 49152) { /* far out either way: nearer by 8192 laps */
        laps = (uint16_t)(laps < 32768 ? laps - 8192 : laps + 8192);
        high = ((uint32_t)laps << 16) | (high & 0xFFFFu);
        layer->motion[which].phase = ((uint64_t)high << 32) | (uint32_t)layer->motion[which].phase;
    }
    layer->frame.lap[which] = (int16_t)(laps < 32768 ? (int32_t)laps : (int32_t)laps - 65536);
    layer->frame.turn[which] = (high << 16) | ((uint32_t)layer->motion[which].phase >> 16);
}
/* Laps a microsecond with 48 fractional bits, as a rate is set. */
int64_t glanz_layer_pace(const struct layer *layer, uint8_t which);
/* A layer that no segment has, for one that has a right to it. */
struct layer *glanz_layer_take(struct glanz_engine *engine);
/* A segment has no look any more. */
void glanz_segment_clear(struct glanz_engine *engine, struct segment *segment);

/* How long after the engine's clock a change comes. */
uint32_t glanz_lead_of(const struct glanz_engine *engine, glanz_us at_us);
/* NULL: there is none. */
struct segment *glanz_segment_of(struct glanz_engine *engine, uint8_t index);
/* May a call change this segment now? */
glanz_status glanz_segment_ready(const struct glanz_engine *engine, const struct segment *segment);
/* Memory for the newest look, where effects can remember. */
void glanz_remember_newest(struct glanz_engine *engine, struct segment *segment);
void glanz_segment_lay(const struct glanz_engine *engine, struct segment *segment, GLANZ_CONST struct glanz_segment *is,
                       const struct glanz_change *change);
/* All are laid out: sort them by where they lie. */
#if GLANZ_SEGMENTS_MOST > 8 || GLANZ_FIELDS
void glanz_segments_sort(struct glanz_engine *engine);
#else
#define glanz_segments_sort(engine) ((void)(engine))
#endif
void glanz_segment_begin(struct glanz_engine *engine, struct segment *segment, GLANZ_CONST struct glanz_segment *is);
/* Check what is lent, and note it. */
glanz_status glanz_segments_lend(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                 GLANZ_CONST uint8_t *stack, uint8_t count, GLANZ_CONST struct glanz_named_color *names,
                                 uint16_t name_count, struct glanz_fault *fault);

/* ---- what is linked only where it is named, or called ---- */

/* Several looks on a segment: known to the engine from the first change on. */
struct glanz_fades_calls {
    void (*advance)(struct glanz_engine *engine, struct segment *segment, uint32_t elapsed);
    /* Weights of all looks `lead` from now. */
    void (*weights)(uint32_t *weights, const struct segment *segment, uint32_t lead);
    /* Mix a look over the others. */
    void (*mix)(struct glanz_light *under, const struct glanz_light *over, uint8_t count, uint32_t weight);
};

struct glanz_blends_part { /* segments that let light through, or mix it otherwise */
    void (*run)(struct glanz_light *under, const struct glanz_light *over, const uint8_t *taken, uint8_t count,
                enum glanz_blend blend, uint32_t opacity); /* glanz_blend_run() */
};

/* The same effect with other numbers goes over to them evenly. */
struct glanz_glides_part {
    /* Let a segment's newest look glide to what is wanted. @return 0 when it is another look, which has to crossfade. */
    int (*begin)(struct glanz_engine *engine, struct segment *segment, struct layer *layer, const struct asked *wanted,
                 uint32_t over_ms, uint32_t lead);
    /* The look in a layer is gone. */
    void (*end)(struct segment *segment, const struct layer *layer);
    /* One frame further. @return 1 while it glides: numbers have changed. */
    uint8_t (*advance)(struct segment *segment, struct layer *layer, uint32_t elapsed);
    /* What moves stays where it is, now that numbers have changed: the phase follows the pass, which was `before`. */
    void (*anchor)(struct layer *layer, glanz_place before);
    /* Laps a microsecond on the way of the glide. */
    int64_t (*pace)(const struct segment *segment, uint8_t which, int64_t to);
};
#if GLANZ_GLIDES
#define GLIDES(engine) ((engine)->parts->glides)
#else
#define GLIDES(engine) ((void)(engine), (GLANZ_CONST struct glanz_glides_part *)NULL)
#endif

/* The current limit. On AVR calls through pointers cost more than the part itself: there it is always linked, and only asked
 * for where it is named. */
#ifdef __AVR__
struct glanz_limit_part {
    uint8_t there;
};
void glanz_limit_start(struct output *output, GLANZ_CONST struct glanz_output *is);
void glanz_limit_plan(struct glanz_engine *engine, uint8_t exact);
uint8_t glanz_limit_stands(struct glanz_engine *engine);
void glanz_limit_expect(struct glanz_engine *engine);
void glanz_limit_begin(struct glanz_put *put, const struct output *output);
void glanz_limit_count(struct output *output, const struct glanz_put *put, const uint32_t *trims, uint16_t full);
void glanz_limit_end(struct output *output, const struct glanz_put *put);
#define LIMIT(limit, call) glanz_limit_##call
#define LIMIT_STATIC
#else
struct glanz_limit_part {
    /* What it has to know of an output. */
    void (*start)(struct output *output, GLANZ_CONST struct glanz_output *is);
    /* Gains and caps of the coming pass; `exact` when its light is known. */
    void (*plan)(struct glanz_engine *engine, uint8_t exact);
    /* Does the pass that was made keep to the limit, and give nothing away? */
    uint8_t (*stands)(struct glanz_engine *engine);
    /* The frame is done; look ahead to the next. */
    void (*expect)(struct glanz_engine *engine);
    /* Before an output is shaded, and after it; behind each of its stretches. */
    void (*begin)(struct glanz_put *put, const struct output *output);
    void (*count)(struct output *output, const struct glanz_put *put, const uint32_t *trims, uint16_t full);
    void (*end)(struct output *output, const struct glanz_put *put);
};
#define LIMIT(limit, call) (limit)->call
#define LIMIT_STATIC static
#endif

#endif
