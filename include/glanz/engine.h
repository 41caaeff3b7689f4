/* SPDX-License-Identifier: MIT */
/** @file
 *  Engine: the rig's outputs, segments and their looks; from looks to the bytes of one frame.
 *
 *  Most programs use the device (device.h), which owns an engine and drives it. All functions here are for the main loop
 *  only, never for interrupts, and none of them waits.
 */
#ifndef GLANZ_ENGINE_H
#define GLANZ_ENGINE_H

#include <glanz/chips.h>
#include <glanz/parts.h>
#include <glanz/effects.h>
#include <glanz/layout.h>
#include <glanz/signals.h>

GLANZ_HEADER_BEGIN

/* ---- the rig: what the hardware is. Const structs, in flash or wherever a document was read to; lent to the engine for
 *      as long as it runs. Zero in a member that says so means its default. ---- */

/** A power supply. */
struct glanz_supply {
    GLANZ_CONST char *name;
    uint32_t millivolts; /**< such as 5000 */
    uint32_t limit_ma;   /**< never exceeded, in the very frame; 0: no limit */
};

/** Neighbouring LEDs of one make on a data line. */
struct glanz_stretch {
    GLANZ_CONST struct glanz_chip *chip; /**< of these LEDs */
    uint16_t leds;                       /**< 1 and up */
    uint8_t order;                       /**< GLANZ_ORDER(...); 0: the chip's own */
    uint8_t parallel;                    /**< strips wired in parallel here; each draws current; 0 means 1 */
    uint16_t white_kelvin;               /**< colour of the white LED, 1000 to 12500; 0: not lit by extraction (stays dark) */
    uint16_t trim[4];                    /**< gain by channel, 1 to 65535 (full); 0: full */
    uint16_t channel_ua[4];              /**< current of a channel fully on; all 0: the chip's */
    uint16_t idle_ua;                    /**< current when dark; 0: the chip's */
    uint16_t white_point; /**< colour temperature of all three full, from which `trim` was worked out by glanz_white_trim();
                             0: it was not */
};

/** One data line. */
struct glanz_output {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_stretch *stretches; /**< a list of stretch_count, in the order of the line */
    uint8_t stretch_count;
    uint8_t pin;       /**< data; the port gives it a meaning */
    uint8_t clock_pin; /**< clocked chips only */
    uint8_t supply;    /**< index into the rig's supplies */
    uint8_t buffers;  /**< byte buffers, 1 or 2; 0 means 1. Clocked chips always get 2. With 2, a frame is shaded while the last
                           is being sent */
    uint16_t trim[4]; /**< gain by channel of the whole line, 1 to 65535 (full), beside the stretches' own; 0: full */
    uint8_t equal; /**< 1: LEDs that are to show the same stay equal in every frame; 0: neighbours share the dither's steps */
    uint8_t
        faint_dark; /**< 1: what is less than one chip step is dark, so that no LED blinks between dark and its lowest level */
};

/** What an input is. */
enum glanz_input_kind {
    GLANZ_INPUT_BUTTON, /**< raw edges of a switch; debounced here */
    GLANZ_INPUT_VALUE,  /**< a number from 0 to 65535 that is pushed in */
    GLANZ_INPUT_SENSOR, /**< a reading from 0 to 65535: a potentiometer, light, a distance */
    GLANZ_INPUT_DIAL,   /**< an angle, 0 to 65535 of a full turn, that goes round */
    GLANZ_INPUT_KNOB,   /**< an encoder: its two lines, as bits 0 and 1 */
    GLANZ_INPUT_SOUND   /**< samples of a microphone or a line: see glanz_sound_push(); its level is how loud it is */
};

/** An input that pushes edges or values in. */
struct glanz_input {
    GLANZ_CONST char *name;
    uint8_t kind;        /**< enum glanz_input_kind */
    uint8_t pin;         /**< the port gives it a meaning */
    uint8_t pressed_low; /**< 1: the line is low when pressed */
    uint8_t settle_ms;   /**< how long contacts may bounce; 0 means 20 */
    uint16_t twice_ms;   /**< a second press within this makes it pressed twice; 0 means 350 */
    uint16_t held_ms;    /**< a press this long is held; 0 means 700 */
#if GLANZ_DRIVES_MOST > 0
    uint8_t second_pin;   /**< of a knob */
    uint8_t reversed;     /**< sensors, dials, knobs: 1 counts the other way round */
    uint8_t edges;        /**< of a knob: changes of its lines in one step; 0 means 4 */
    uint8_t endless;      /**< of a knob: 1: its end joins its start, and it is a turn; 0: it stops at both */
    uint16_t steps;       /**< of a knob: from end to end, or once round; 0 means 24 */
    uint16_t zero;        /**< of a dial: the angle that counts as 0 */
    uint16_t low, high;   /**< of a sensor: readings that count as 0 and as the highest level; both 0: 0 and 65535 */
    uint16_t lag_ms;      /**< sensors and dials: half-life with which noise is smoothed; 0: not at all */
    uint16_t repeats_ms;  /**< buttons: the first repeat, after it was held; 0 means 400 */
    uint16_t together_ms; /**< buttons: two pressed within this are pressed together; 0 means 150 */
    uint16_t lost_level;  /**< sensors, values: what it reads while it is lost, 0 to 65535 */
    uint32_t lost_ms; /**< sensors, values: lost when nothing was pushed for so long; 0: never. Counts from the first push */
    GLANZ_CONST char *unit;        /**< in which people read its level, such as "m"; NULL: percent, or degrees */
    int32_t reads_low, reads_high; /**< what they read at level 0 and at 65536, thousandths of the unit */
    struct glanz_hearing hearing;  /**< of sound */
#endif
};

/** One controller's hardware. */
struct glanz_rig {
    GLANZ_CONST char *name;
    uint16_t frames_per_s;                      /**< how often the program means to call for a frame; 0 means 100 */
    uint8_t lowest_hz;                          /**< no LED blinks slower than this by dither; 0 means 25 */
    uint8_t free_dither;                        /**< 1: the finest mean, with no lowest blink */
    uint16_t refresh_ms;                        /**< a still frame is sent again after this; 0 means 1000 */
    GLANZ_CONST struct glanz_supply *supplies;  /**< a list of supply_count, 1 to 8 */
    GLANZ_CONST struct glanz_output *outputs;   /**< a list of output_count, 1 to GLANZ_OUTPUTS_MOST */
    GLANZ_CONST struct glanz_surface *surfaces; /**< a list of surface_count */
    GLANZ_CONST struct glanz_input *inputs;     /**< a list of input_count */
    uint8_t supply_count, output_count, surface_count, input_count;
#if GLANZ_CALENDAR
    int32_t latitude, longitude; /**< where it stands, 1/10000 degree, north and east positive; for sunrise and sunset */
    uint8_t placed;              /**< 1: these are known */
    GLANZ_CONST char *zone;      /**< its time zone, as glanz_zone_read() takes it; NULL: UTC */
#endif
};

#define GLANZ_SUPPLIES_MOST (GLANZ_OUTPUTS_MOST <= 2 ? 1 : 16) /**< supplies of a rig */
#define GLANZ_LEDS_MOST 32767                                  /**< LEDs of one output, or of one surface */

/** Validate a rig. Refuses what cannot be: counts and indices out of range, orders that are none, chips of two protocols on
 *  one line, pins used twice, LEDs claimed by two surfaces, a limit below what the dark LEDs draw.
 *  @return GLANZ_ERR_RIG with the fault filled, or GLANZ_ERR_ARGUMENT for NULL. */
GLANZ_NODISCARD glanz_status glanz_rig_check(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);

/** Does any part of a rig lie in this memory: itself, one of its lists, a name, a chip? */
int glanz_rig_uses(GLANZ_CONST struct glanz_rig *rig, const void *memory, size_t size);

/** The times that keep to the data sheets of every chip on a one-wire output: about the middle of what they have in common, in
 *  multiples of 50 ns where there is one, a 1 high for more than half of its bit; for a peripheral that takes four times.
 * @return GLANZ_ERR_ABSENT for clocked chips, or when they have nothing in common. */
GLANZ_NODISCARD glanz_status glanz_output_timing(GLANZ_CONST struct glanz_output *output, struct glanz_timing *timing);

/** The same as 3 to 5 equal slots a bit, for an SPI (3 or 4) or a UART. */
GLANZ_NODISCARD glanz_status glanz_output_slots(GLANZ_CONST struct glanz_output *output, uint8_t count,
                                                struct glanz_slots *slots);

/** LEDs of an output: the sum of its stretches. */
uint16_t glanz_output_leds(GLANZ_CONST struct glanz_output *output);
/** Bytes that one frame of an output has. */
uint32_t glanz_output_bytes(GLANZ_CONST struct glanz_output *output);
/** How long one frame of an output takes on the wire, microseconds, reset included. */
uint32_t glanz_output_wire_us(GLANZ_CONST struct glanz_output *output);
/** Current of an output with every LED in the given channels fully on (bit 0 red ... bit 3 white), microamps. 0 channels:
 *  the idle current. At most 2^32 - 1, and no checked rig comes near that: a supply's outputs draw at most 4,000 A. */
uint32_t glanz_output_ua(GLANZ_CONST struct glanz_output *output, uint8_t channels);

/* ---- what to show ---- */

/** One parameter of a look, where it differs from the effect's standard. */
struct glanz_setting {
    uint8_t param;  /**< index of the effect's parameter */
    uint8_t unit;   /**< enum glanz_unit; NONE: the unit of the parameter's standard */
    int32_t number; /**< as glanz_param_kind says */
};

/** What a segment shows. */
struct glanz_look {
    GLANZ_CONST char *name;
    GLANZ_CONST struct glanz_effect *effect;     /**< what it shows */
    GLANZ_CONST struct glanz_gradient *gradient; /**< NULL: glanz_gradient_standard */
    GLANZ_CONST void *content;                   /**< for effects that need one: begins with its enum glanz_content_kind */
    GLANZ_CONST struct glanz_setting *settings;  /**< a list of setting_count: what is not the effect's own default */
    uint8_t setting_count;
    uint16_t brightness; /**< lightness 1 to 65535; 0: full */
#if GLANZ_DRIVES_MOST > 0
    uint8_t drive_count;
    GLANZ_CONST struct glanz_drive *drives; /**< what signals lay over its numbers */
#endif
};

/** A part of a surface that shows one look. */
struct glanz_segment {
    GLANZ_CONST char *name;
    struct glanz_region region;          /**< the part of its surface that it takes */
    GLANZ_CONST struct glanz_look *look; /**< at the start; NULL: dark */
    uint32_t seed;                       /**< of its randomness; documents take glanz_text_hash() of the name */
    uint8_t surface;                     /**< index into the rig's surfaces */
    uint8_t blend;                       /**< enum glanz_blend */
    uint8_t off;                         /**< 1: off at the start */
    uint16_t opacity;                    /**< 1 to 65535; 0: full */
    uint16_t brightness;                 /**< lightness 1 to 65535 at the start; 0: full */
#if GLANZ_SEQUENCES
    uint8_t keeps_colors; /**< 1: palettes that presets, playlists and hands put on it change nothing there */
    uint8_t setting_count;
    GLANZ_CONST struct glanz_setting *settings; /**< numbers of `look` that are others here; at the start */
#endif
#if GLANZ_DRIVES_MOST > 0
    uint8_t drive_count;
    GLANZ_CONST struct glanz_drive *drives; /**< of GLANZ_DRIVE_BRIGHTNESS and GLANZ_DRIVE_OPACITY: what signals dim it by */
#endif
};

#if GLANZ_SEQUENCES
/** Are these numbers of a look, within their bounds? None are, of any; NULL with a count is not. */
int glanz_settings_fit(GLANZ_CONST struct glanz_look *look, GLANZ_CONST struct glanz_setting *settings, uint8_t count);

/** A look with some numbers that are others, for a call that takes a look. @param look,settings room: for the look, and for
 *  GLANZ_PARAMS settings. @param over,count the numbers. @return it, or `of` where there are none. */
GLANZ_CONST struct glanz_look *glanz_look_with(struct glanz_look *look, struct glanz_setting *settings,
                                               GLANZ_CONST struct glanz_look *of, GLANZ_CONST struct glanz_setting *over,
                                               uint8_t count);
#endif

/** May the parameter of an effect with this index be set so? @param unit enum glanz_unit, not NONE for lengths and rates.
 *  @return GLANZ_ERR_ARGUMENT: there is none, or it is out of its bounds. */
GLANZ_NODISCARD glanz_status glanz_setting_check(GLANZ_CONST struct glanz_effect *effect, uint8_t index, uint8_t unit,
                                                 int32_t number);

#if GLANZ_DRIVES_MOST > 0
/** What is wrong with a drive, whatever it is for: its curve, the part it follows, what it does when a hand comes. NULL:
 * nothing.
 */
GLANZ_CONST char *glanz_drive_wrong(GLANZ_CONST struct glanz_drive *drive);
#endif
/** Validate a look: its effect, settings in range, content where one is needed. */
GLANZ_NODISCARD glanz_status glanz_look_check(GLANZ_CONST struct glanz_look *look, struct glanz_fault *fault);

/** Validate segments on a rig: within their surfaces, with valid looks. @param stack every segment once; NULL: in
 *  their own order. */
GLANZ_NODISCARD glanz_status glanz_segments_check(GLANZ_CONST struct glanz_segment *segments, GLANZ_CONST uint8_t *stack,
                                                  uint8_t count, GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);

/* ---- the engine ---- */

struct glanz_engine; /**< opaque; lives in the caller's memory */

#define GLANZ_NO_FADING 255 /**< in place of a number of looks that may fade: none changes */

/** Memory that an engine needs for a rig, with room for so many segments, in bytes. 0 for NULL or 0 segments.
 *  @param parts NULL: none. @param fading looks that may fade beside the newest of each segment, all segments together; at
 *  most GLANZ_FADES - 1 on one of them. 0: as many as there can be. GLANZ_NO_FADING: looks never change, and
 *  glanz_engine_look() is GLANZ_ERR_MEMORY. RAM: some 170 bytes each. Where more change at once, some are let go within a
 *  tenth of a second each, and the newest wait for them.
 *  The block must be aligned for a pointer and a uint64_t. */
size_t glanz_engine_size(GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity,
                         uint8_t fading);

#if GLANZ_FIELDS
/** Bytes that a look wants to remember in on a segment. Of the looks that a segment may show, GLANZ_FADES times the largest is
 *  always enough; to be added to the engine's or the device's memory. 0 when its effect does not remember, or for NULL. */
size_t glanz_look_memory(GLANZ_CONST struct glanz_segment *segment, GLANZ_CONST struct glanz_look *look,
                         GLANZ_CONST struct glanz_rig *rig);

/** Tell the time of day, for effects that show it; again after another rig was taken. @param day days since 1 January 1970.
 * @param second of that day, both local time; the engine goes on from there by itself. */
GLANZ_NODISCARD glanz_status glanz_engine_clock(struct glanz_engine *engine, uint32_t day, uint32_t second);

/** Names that texts tell, Monday and January first, with commas between; NULL: in English. Lent while they are there. */
void glanz_engine_words(struct glanz_engine *engine, GLANZ_CONST char *weekdays, GLANZ_CONST char *months);
#endif

/** Local time: what was told, and has passed since. @param day since 1 January 1970. @param second of the day. @param us of the
 *  second. @return 0 while it is not known, and all are 0. */
int glanz_engine_time(const struct glanz_engine *engine, uint32_t *day, uint32_t *second, uint32_t *us);

#if GLANZ_FIELDS || GLANZ_DRIVES_MOST > 0
#if GLANZ_DRIVES_MOST > 0
/** What effects that live on sound are shown: by input, NULL for each that hears nothing. @param heard lent; may be NULL. */
void glanz_engine_hear(struct glanz_engine *engine, const struct glanz_heard *const *heard);
#endif

/** Tell the newest level of a signal: drives follow it from that time on, texts show it. @param level 0 to 65536; or 0 to 65535
 * and GLANZ_LEVEL_TURN. @param at_us on the engine's clock, not after the frame that follows.
 *  @param over_us 0: it is so from that time on; else it went there evenly in so long, since the last frame or a change in it.
 *  @return GLANZ_ERR_ABSENT: there is no such signal, or neither fields nor drives are linked. */
GLANZ_NODISCARD glanz_status glanz_engine_level(struct glanz_engine *engine, uint8_t signal, uint32_t level, glanz_us at_us,
                                                uint32_t over_us);
#endif

/** Lay an engine out in memory, dark.
 *  @param memory lent until the program stops using the engine; what lies beyond glanz_engine_size() is for effects that
 *  remember. @param parts lent as long; NULL: none. @param rig lent as long; checked where that part is named.
 *  @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_RIG, or GLANZ_ERR_MEMORY (fault->needed tells how much). */
GLANZ_NODISCARD glanz_status glanz_engine_start(struct glanz_engine **engine, void *memory, size_t size,
                                                GLANZ_CONST struct glanz_parts *parts, GLANZ_CONST struct glanz_rig *rig,
                                                uint8_t segment_capacity, uint8_t fading, struct glanz_fault *fault);
/** The parts that it was started with; NULL for NULL. */
GLANZ_CONST struct glanz_parts *glanz_engine_parts(const struct glanz_engine *engine);

struct glanz_setup;
struct glanz_show;

/** Validation, as the other rooms call it where it is named. */
struct glanz_checks_part {
    glanz_status (*rig)(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);    /**< glanz_rig_check() */
    glanz_status (*look)(GLANZ_CONST struct glanz_look *look, struct glanz_fault *fault); /**< glanz_look_check() */
    glanz_status (*segments)(GLANZ_CONST struct glanz_segment *segments, GLANZ_CONST uint8_t *stack, uint8_t count,
                             GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault); /**< glanz_segments_check() */
    glanz_status (*show)(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig,
                         struct glanz_fault *fault); /**< glanz_show_check() */
    /** Too little memory: glanz_fault_memory(). */
    glanz_status (*memory)(struct glanz_fault *fault, GLANZ_CONST char *what, size_t needed, size_t given);
    void (*segments_most)(struct glanz_fault *fault, uint32_t count, uint32_t most); /**< more than there is memory for */
    /** Too little memory for a device: the same, with the arguments of GLANZ_DEVICE_MEMORY() that would do. */
    glanz_status (*device_memory)(struct glanz_fault *fault, size_t needed, size_t given, GLANZ_CONST struct glanz_parts *parts,
                                  GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, uint8_t inputs,
                                  uint8_t segments);
    void (*inputs_most)(struct glanz_fault *fault, uint32_t count, uint32_t most); /**< the same of inputs */
    void (*fading)(struct glanz_fault *fault);                                     /**< a controller, but no look may change */
    void (*layout)(struct glanz_fault *fault); /**< program and library were compiled differently */
    /** Which member of a setup is wrong, or what else of glanz_device_start(). */
    void (*misuse)(struct glanz_fault *fault, const void *out, const void *memory, const struct glanz_setup *setup);
};

#if GLANZ_FIELDS
struct glanz_fields_calls; /**< opaque */
extern GLANZ_CONST struct glanz_fields_calls glanz_fields_calls;
/** Grids, rings of rings and points; effects that see two dimensions, and those that remember. */
struct glanz_fields_part {
    GLANZ_CONST struct glanz_fields_calls *calls;                                             /**< of the engine */
    size_t (*memory)(GLANZ_CONST struct glanz_show *show, GLANZ_CONST struct glanz_rig *rig); /**< glanz_show_memory() */
    int (*preset_fits)(const struct glanz_control *control, uint8_t preset); /**< is there memory for its effects? */
    void (*settle)(struct glanz_engine *engine);                             /**< glanz_engine_settle() */
    glanz_status (*level)(struct glanz_engine *engine, uint8_t signal, uint32_t level, glanz_us at_us,
                          uint32_t over_us); /**< glanz_engine_level() */
};
#endif

#if GLANZ_DRIVES_MOST > 0
struct glanz_drives_calls; /**< opaque */
/** Signals laid over the numbers of looks. */
struct glanz_drives_part {
    GLANZ_CONST struct glanz_drives_calls *calls; /**< of the engine */
    glanz_status (*level)(struct glanz_engine *engine, uint8_t signal, uint32_t level, glanz_us at_us,
                          uint32_t over_us);                                                   /**< glanz_engine_level() */
    glanz_status (*release)(struct glanz_engine *engine, uint8_t segment);                     /**< glanz_engine_release() */
    glanz_status (*drive)(struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive); /**< glanz_engine_drive() */
};
#endif

/** The parts that a look needs (enum glanz_part_bit, or-ed). */
unsigned glanz_look_needs(GLANZ_CONST struct glanz_look *look);
/** The same of a segment, its look among it. */
unsigned glanz_segment_needs(GLANZ_CONST struct glanz_segment *segment);
/** Parts that are needed and not named: the first is told by its name. @return GLANZ_ERR_ABSENT; GLANZ_OK for 0. */
glanz_status glanz_parts_lacking(struct glanz_fault *fault, unsigned lacking);

/** Too little memory: said in words where checks are named. @return GLANZ_ERR_MEMORY. */
glanz_status glanz_parts_memory(GLANZ_CONST struct glanz_parts *parts, struct glanz_fault *fault, GLANZ_CONST char *what,
                                size_t needed, size_t given);

/** Where a change begins and how long it takes, on the engine's clock. */
struct glanz_change {
    glanz_us at_us;   /**< not after the frame that follows */
    uint32_t over_ms; /**< 0: at once */
    uint8_t again;    /**< looks only: 1 begins it anew, phases at 0 and memory empty, even where it shows already */
};

/** Begin the segments of a show, each with its look, and the whole dark: glanz_engine_brightness() lights it. All is lent, as
 * long as glanz_engine_uses() says so.
 *  @param stack every segment once, bottom first; NULL: in their own order. @param names colours that looks may name.
 *  @return GLANZ_ERR_SHOW, GLANZ_ERR_MEMORY when there are more than the engine has room for. */
GLANZ_NODISCARD glanz_status glanz_engine_begin(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                                GLANZ_CONST uint8_t *stack, uint8_t count,
                                                GLANZ_CONST struct glanz_named_color *names, uint16_t name_count,
                                                struct glanz_fault *fault);

/** Take the segments of another show. Segments that were there under the same name on the same LEDs keep what they
 *  show; others begin with their look. All is lent until the next call, and as long as glanz_engine_uses() says so.
 *  @param stack every segment once, bottom first; NULL: in their own order. @param names colours that looks may name. @param
 * change for the opacity of segments that stay.
 *  @return GLANZ_ERR_SHOW when a segment does not fit its surface, GLANZ_ERR_MEMORY when there are more than the engine has
 *          room for. On failure nothing changes. */
GLANZ_NODISCARD glanz_status glanz_engine_set_segments(struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segments,
                                                       GLANZ_CONST uint8_t *stack, uint8_t count,
                                                       GLANZ_CONST struct glanz_named_color *names, uint16_t name_count,
                                                       struct glanz_change change, struct glanz_fault *fault);

/** Which of the segments that show now one of another show would go on from; GLANZ_ALL: none, it begins anew. */
uint8_t glanz_engine_place(const struct glanz_engine *engine, GLANZ_CONST struct glanz_segment *segment);

/** Bytes that effects remember in: what there is for all (GLANZ_ALL), or what the newest look of a segment wants. */
size_t glanz_engine_memory(const struct glanz_engine *engine, uint8_t segment);

/** End all crossfades at once: the newest look of every segment stays. It makes room in the effects' memory. */
void glanz_engine_settle(struct glanz_engine *engine);

/** Is a callback of the engine running, an effect's or the painter's? Then nothing can be changed: see glanz_control_listen().
 */
int glanz_engine_inside(const struct glanz_engine *engine);

/** Is anything that lies in this memory still being shown, if only as the fading rest of an earlier look? Effects too: a part
 *  that is to be unloaded may go when this says 0. */
int glanz_engine_uses(const struct glanz_engine *engine, const void *memory, size_t size);

/** Show a look on a segment. The same effect with other numbers and colours glides, as each parameter says (see
 *  glanz_param.change); anything else crossfades, and to and from dark evenly to the eye. A change in the middle of another
 * never jumps.
 *  @param look copied, but its name, gradient and content are lent for as long as it is shown; NULL: dark.
 *  @return GLANZ_ERR_ABSENT for a segment that is not there, GLANZ_ERR_SHOW for a look that cannot be, GLANZ_ERR_MEMORY when
 *          its effect wants to remember and there is no room: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_engine_look(struct glanz_engine *engine, uint8_t segment,
                                               GLANZ_CONST struct glanz_look *look, struct glanz_change change);

/** Change one parameter of what a segment shows, as a hand does; numbers and colours glide, choices and flags crossfade. One
 *  that is driven holds against its drive as that says (enum glanz_yield).
 *  @return GLANZ_ERR_ABSENT, or GLANZ_ERR_ARGUMENT when out of the parameter's bounds. */
GLANZ_NODISCARD glanz_status glanz_engine_set(struct glanz_engine *engine, uint8_t segment, struct glanz_setting setting,
                                              struct glanz_change change);

#if GLANZ_DRIVES_MOST > 0
/** What a signal dims the whole by: a drive of GLANZ_DRIVE_BRIGHTNESS, lent as long as glanz_engine_uses() says so; NULL:
 * nothing.
 * @return GLANZ_ERR_ABSENT when drives are not linked. */
GLANZ_NODISCARD glanz_status glanz_engine_drive(struct glanz_engine *engine, GLANZ_CONST struct glanz_drive *drive);

/** Hand the numbers of a segment that a hand has set back to what drives them; they go there within GLANZ_YIELD_BACK_MS. */
GLANZ_NODISCARD glanz_status glanz_engine_release(struct glanz_engine *engine, uint8_t segment);
#endif

#define GLANZ_ALL 255 /**< in place of a segment: the whole rig */

/** Brightness of a segment, or of the whole (GLANZ_ALL), as lightness 0 to 65535; glides evenly to the eye. */
GLANZ_NODISCARD glanz_status glanz_engine_brightness(struct glanz_engine *engine, uint8_t segment, uint16_t lightness,
                                                     struct glanz_change change);

/** Switch a segment on or off, evenly to the eye; off leaves its LEDs to what is under it. */
GLANZ_NODISCARD glanz_status glanz_engine_switch(struct glanz_engine *engine, uint8_t segment, uint8_t on,
                                                 struct glanz_change change);

/** What a segment shows and is going to show, for saving and for telling. */
struct glanz_showing {
    GLANZ_CONST char *name;                      /**< of the look it came from; NULL when dark */
    GLANZ_CONST struct glanz_effect *effect;     /**< NULL when dark */
    GLANZ_CONST struct glanz_gradient *gradient; /**< of what shows; NULL: none */
    GLANZ_CONST void *content;                   /**< of what shows; NULL: none */
    int32_t number[GLANZ_PARAMS];                /**< as set, in `unit` */
    uint8_t unit[GLANZ_PARAMS];                  /**< of the number */
#if GLANZ_DRIVES_MOST > 0
    uint8_t drive_count;
    GLANZ_CONST struct glanz_drive *drives; /**< of that look */
#endif
    uint16_t look_brightness; /**< lightness, 65535 full */
    uint16_t brightness;      /**< lightness of the segment */
    uint8_t on;               /**< 0: dark */
    uint8_t fading;           /**< looks on it at this moment */
};
/** Tell what a segment shows. @param showing filled. @return GLANZ_ERR_ABSENT for a segment that there is not. */
GLANZ_NODISCARD glanz_status glanz_engine_showing(const struct glanz_engine *engine, uint8_t segment,
                                                  struct glanz_showing *showing);

/** The numbers of the newest look of a segment as its effect saw them in the newest frame: gliding, and driven. */
struct glanz_seen {
    int32_t number[GLANZ_PARAMS];           /**< lengths in LEDs, rates in the unit they are asked or driven in */
    struct glanz_light color[GLANZ_COLORS]; /**< of its colour parameters, in order */
    uint16_t brightness;                    /**< of the look, lightness */
};
/** @return GLANZ_ERR_ABSENT: there is no such segment, or it is dark. */
GLANZ_NODISCARD glanz_status glanz_engine_seen(const struct glanz_engine *engine, uint8_t segment, struct glanz_seen *seen);

#if GLANZ_SEQUENCES
/** What moves by itself stands still, or goes on. Brightness, fades, glides, and what follows signals, go on in any case.
 *  @param at_us when, exactly: within the coming frame. @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_STATE inside a callback. */
glanz_status glanz_engine_freeze(struct glanz_engine *engine, uint8_t frozen, glanz_us at_us);
/** What is frozen moves on by so much in the coming frame. @param us to 0x0FFFFFFF. @return GLANZ_ERR_STATE: nothing is frozen,
 *  or inside a callback. */
glanz_status glanz_engine_step(struct glanz_engine *engine, uint32_t us);
/** Is it frozen? 0 for NULL. */
int glanz_engine_frozen(const struct glanz_engine *engine);
#endif

/** An effect goes on as another edition of itself, built anew: its looks keep phases, numbers and what they remember. Those of
 *  shows still name the one before: give a show that names the other next. @return GLANZ_ERR_STATE: their parameters, content,
 *  needs or memory differ, nothing was changed; GLANZ_ERR_BUSY inside a callback; GLANZ_ERR_ARGUMENT. Not on AVR. */
GLANZ_NODISCARD glanz_status glanz_engine_exchange(struct glanz_engine *engine, GLANZ_CONST struct glanz_effect *before,
                                                   GLANZ_CONST struct glanz_effect *after);

/** The brightness that was asked for the whole, as lightness, on its way or there. 0 for NULL. */
uint16_t glanz_engine_lightness_asked(const struct glanz_engine *engine);
/** The whole's brightness now, as lightness. 0 for NULL. */
uint16_t glanz_engine_lightness(const struct glanz_engine *engine);

/** A painter: light for LEDs of a data line, by index, in place of the segments; trim, limit, dither and wire stay. For
 *  bring-up. @param light `count` lights to fill. @param output of the rig, from 0. @param first LED of the line, from 0.
 *  @param count how many. @param user as it was given. */
typedef void (*glanz_painter)(struct glanz_light *light, uint8_t output, uint16_t first, uint8_t count, void *user);

/** Let a painter fill every LED; NULL gives the LEDs back to the segments. Asked every frame. */
GLANZ_NODISCARD glanz_status glanz_engine_paint(struct glanz_engine *engine, glanz_painter painter, void *user);

/** Move everything on by the time since the last frame, and shade a frame if anything may have changed.
 *  @param shaded set to 1 when there are new bytes, 0 when the frame would be the same as the last.
 *  @param clock_us 64-bit time, never running back. @param force 1: shade in any case.
 *  Never call it while bytes of an output with one buffer are being sent. */
GLANZ_NODISCARD glanz_status glanz_engine_frame(struct glanz_engine *engine, glanz_us clock_us, uint8_t force, uint8_t *shaded);

/** Move everything on without shading, as when outputs are busy. */
GLANZ_NODISCARD glanz_status glanz_engine_advance(struct glanz_engine *engine, glanz_us clock_us);

/** The bytes of the newest frame of an output: ready to be sent, or, after glanz_engine_sent(), being sent. With one buffer
 *  valid until the next frame is shaded, with two until the one after it. */
GLANZ_NODISCARD glanz_status glanz_engine_bytes(const struct glanz_engine *engine, uint8_t output, const uint8_t **bytes,
                                                size_t *count);

/** The newest frame is being sent now: it is what is lit from here on. */
void glanz_engine_sent(struct glanz_engine *engine);

/** Current that the newest frame draws, microamps, by the LEDs' data and the finished bytes. */
uint32_t glanz_engine_supply_ua(const struct glanz_engine *engine, uint8_t supply);
/** The same for one output. It is worked out from the bytes whenever it is asked for. */
uint32_t glanz_engine_output_ua(const struct glanz_engine *engine, uint8_t output);
/** Share of the wanted light that the limit of a supply let through in the newest frame, 0 to 65536. */
uint32_t glanz_engine_limit_scale(const struct glanz_engine *engine, uint8_t supply);
/** The light that was wanted of LEDs of an output in the newest frame: linear, before trim, brightness, limit and dither. It is
 *  composed again when it is asked for. @param light filled, `count` of them. @return GLANZ_ERR_ABSENT for LEDs that are not
 *  there. */
GLANZ_NODISCARD glanz_status glanz_engine_light(struct glanz_engine *engine, uint8_t output, uint16_t first,
                                                struct glanz_light *light, uint16_t count);
/** Current that the newest frame's light would draw on an output without a limit and without dither, idle current included,
 *  microamps. It is composed again when it is asked for. */
uint32_t glanz_engine_demand_ua(struct glanz_engine *engine, uint8_t output);
/** Brightness of the whole in the newest frame, as a gain on light, 0 to 65536. */
uint32_t glanz_engine_gain(const struct glanz_engine *engine);
/** Times a frame was shaded again for the limit, since the start. At most once a frame. */
uint32_t glanz_engine_extra_passes(const struct glanz_engine *engine);
/** The dither of the newest frame. */
struct glanz_dither glanz_engine_dither(const struct glanz_engine *engine);

GLANZ_HEADER_END
#endif
