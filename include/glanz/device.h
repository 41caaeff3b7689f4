/* SPDX-License-Identifier: MIT */
/** @file
 *  Device: the whole. Give it memory, a rig, a show and a port; call it once a frame with the time.
 *
 *  Calling context: everything is for the main loop, but for glanz_device_push(), which is interrupt-safe. Nothing waits,
 *  sleeps, prints or allocates. Several devices can live in one program.
 */
#ifndef GLANZ_DEVICE_H
#define GLANZ_DEVICE_H

#include <glanz/control.h>
#include <glanz/sound.h>
#include <glanz/store.h>

GLANZ_HEADER_BEGIN

/** Bytes to be sent on one output. They stay as they are until the port is no longer busy. */
struct glanz_sending {
    GLANZ_CONST struct glanz_output *output; /**< of the rig that runs */
    const uint8_t *bytes;                    /**< as the chips take them */
    size_t count;
};

/** When a sending is over, for ports: how long the bytes take and the reset time behind them, by the chips' data sheets. What
 * has ended stays ended, however long nothing is sent and however often the clock wraps. All 0: nothing is sent. */
struct glanz_sending_timer {
    uint32_t begin_us; /**< of what runs: the bytes, or the reset time */
    uint32_t bytes_us; /**< how long the bytes take */
    uint32_t reset_us; /**< how long the line rests behind them */
    uint8_t runs;      /**< 0: nothing; 1: the bytes; 2: the reset time */
};

/** Sending begins now. @param list,count as the port's start() got them. */
void glanz_sending_begin(struct glanz_sending_timer *timer, const struct glanz_sending *list, uint8_t count, uint32_t now_us);
/** The last byte has left, as the board's hardware tells: from now on it is the reset time. Without this call it is reckoned.
 */
void glanz_sending_end(struct glanz_sending_timer *timer, uint32_t now_us);
/** 1 while bytes are sent or the line rests: what a port's busy() says. Asked at least once in 35 minutes of a sending. */
int glanz_sending_runs(struct glanz_sending_timer *timer, uint32_t now_us);

/** What the firmware's author writes for a board. Const, checked once at start. Appended to, never changed. */
struct glanz_port {
    uint16_t version; /**< 2 */
    void *user;       /**< handed to every function */

    /** 1. Begin sending on all outputs of the list, together. 2. Do not wait for them to end, unless the board can only send
     *  by a loop. 3. Leave the line low for the chip's reset time after the last byte before you are not busy any more.
     *  @return GLANZ_OK, or GLANZ_ERR_PORT: the frame is counted as failed and tried again. Required. */
    glanz_status (*start)(void *user, const struct glanz_sending *list, uint8_t count);

    /** 1 while any output is still sending or in its reset time. Required. */
    int (*busy)(void *user);

    /** Give up sending; called when an output has not ended long after it should: then the bytes are the device's again. May be
     *  NULL: such a sending is waited for, and no byte of it is touched. */
    void (*stop)(void *user);

    /** One line for a log, without a line end. May be NULL. */
    void (*log)(void *user, const char *line);

    /** Microseconds now, on the clock that glanz_device_frame() is given; may wrap. What a program says between two frames
     *  counts from the moment at which it says it. Required. */
    uint32_t (*time_us)(void *user);
};

/** What the device has counted since its start. */
struct glanz_counts {
    uint32_t frames;   /**< calls of glanz_device_frame() */
    uint32_t shaded;   /**< frames with new bytes */
    uint32_t sent;     /**< frames handed to the port, refreshes included */
    uint32_t still;    /**< frames in which nothing was to be done */
    uint32_t busy;     /**< frames left out because outputs with one buffer were still sending */
    uint32_t failed;   /**< starts that the port refused */
    uint32_t stuck;    /**< sendings given up because they did not end */
    uint32_t again;    /**< frames shaded again for the current limit */
    uint32_t backward; /**< frames in which the time given ran backwards */
    uint32_t saved;    /**< saves that were confirmed */
    uint32_t unsaved;  /**< saves that failed; what was there before stayed */
    uint32_t lost;     /**< edges and values that inputs lost because they came too fast; the newest of each always counts */
    uint32_t stalls;   /**< steps of a save that had waited too long and were done although they hold a frame up */
};

struct glanz_device; /**< opaque; lives in the caller's memory */

/** What a device is made of. Zero means default where it says so. */
struct glanz_setup {
    GLANZ_CONST struct glanz_rig *rig;   /**< lent as long as it runs */
    GLANZ_CONST struct glanz_show *show; /**< lent until another is taken and glanz_device_uses() says 0 */
    const struct glanz_port *port;       /**< lent as long as the device runs */
    GLANZ_CONST struct glanz_parts
        *parts;               /**< what is linked beside the plain frame path, lent as long as it runs; NULL: none */
    uint8_t segment_capacity; /**< segments that shows may have; 0: as many as this show */
    /** Effects that saved presets may name: glanz_effects, or a list of your own closed by NULL; NULL: saved presets cannot
     *  be recalled. Naming the list is what links them. */
    GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects;
    struct glanz_store *store; /**< lent as long as the device runs; NULL: nothing is kept. Needs parts->saving */
    void *values;              /**< lent as long as the device runs, for what saved presets bring: see glanz_control_values() */
    size_t values_size;        /**< bytes of it */
#ifndef __AVR__                /* as many as there can be */
    uint8_t fading; /**< looks that may fade beside the newest of each segment, all segments together: see glanz_engine_size().
                       0: as many as there can be. GLANZ_NO_FADING only where parts->control is NULL, for there looks change */
#endif
#if GLANZ_DRIVES_MOST > 0
    /** Sources of sound, lent as long as the device runs: one for each input for sound that a rig has, in its order. They are
     *  told how to listen; the program pushes samples to them. Needs parts->sound. */
    struct glanz_sound *const *sounds;
    uint8_t sound_count;
#endif
    uint8_t input_capacity; /**< inputs that rigs may have; 0: as many as this rig. RAM: 30 bytes and 8 * GLANZ_INBOX each */
};

/** A setup of these, all else as it comes. @param parts what is linked beside the plain frame path, such as
 *  glanz_everything; NULL: nothing. */
static inline struct glanz_setup glanz_setup_of(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show,
                                                const struct glanz_port *port, GLANZ_CONST struct glanz_parts *parts) {
#ifdef __cplusplus
    struct glanz_setup setup = glanz_setup();
#else
    struct glanz_setup setup = {0};
#endif
    setup.rig = rig;
    setup.show = show;
    setup.port = port;
    setup.parts = parts;
    return setup;
}

/** Keys of the store that a device uses; others, from 0x1000 on, are free for programs. */
enum glanz_key {
    GLANZ_KEY_RESETS = 0x001,  /**< how often it was reset early, one byte */
    GLANZ_KEY_RUNNING = 0x002, /**< what is showing: see glanz_running_pack() */
    GLANZ_KEY_ORDER = 0x003,   /**< in which order saved presets come */
    GLANZ_KEY_SINCE = 0x004,   /**< how long what is showing has gone on: 4 bytes that tell its record, milliseconds (4) */
    GLANZ_KEY_RANGES = 0x005,  /**< ranges of readings that were learnt: see glanz_ranges_pack() */
    GLANZ_KEY_PRESETS = 0x100, /**< saved presets, GLANZ_SAVED_MOST of them: see glanz_preset_pack() */
    GLANZ_KEY_PICTURES = 0x200 /**< kept pictures, GLANZ_PICTURES_MOST of them */
};

/** Records that a device keeps at the most, to be given to glanz_store_start(). */
#define GLANZ_DEVICE_RECORDS (5 + GLANZ_SAVED_MOST + 32)

/** Memory for a device with all parts and as many looks that fade as there can be, in bytes; 0 for a rig that cannot be. With
 *  less, glanz_device_start() tells what it takes (fault->needed). Effects that remember want glanz_show_memory() beside it. */
size_t glanz_device_size(GLANZ_CONST struct glanz_rig *rig, uint8_t segment_capacity);

/** Bytes that the LEDs of a rig take of it: what GLANZ_DEVICE_SIZE() calls led_bytes. 0 for NULL. */
uint32_t glanz_rig_led_bytes(GLANZ_CONST struct glanz_rig *rig);

/** The same as a constant, for static storage: an upper bound on every CPU, within some per cent.
 *  @param led_bytes the sum over all outputs of LEDs * (channels * (buffers + 1)); clocked chips: LEDs * 12 + 40.
 *  @param outputs,inputs,segments how many of each.
 *  Example: static GLANZ_DEVICE_MEMORY(memory, 60 * 6, 1, 1, 2); */
#define GLANZ_DEVICE_SIZE(led_bytes, outputs, inputs, segments)                                                                \
    GLANZ_DEVICE_SIZE_FADING(led_bytes, outputs, inputs, segments, (GLANZ_FADES - 1) * (segments))
/** What drives and signals add to it. */
#if GLANZ_DRIVES_MOST > 0
#define GLANZ_DEVICE_SIZE_DRIVES(inputs, segments, fading)                                                                     \
    ((size_t)((2 * sizeof(void *) + 24) * GLANZ_DRIVES_MOST + 2 * sizeof(void *) * GLANZ_UNDO +                                \
              (9 * sizeof(void *) + 8) * (segments) + (2 * sizeof(void *) + 8) * (fading) +                                    \
              (48 + 3 * GLANZ_PARAMS) * ((segments) + (fading)) + 24 * GLANZ_SIGNALS_MOST + 32 * GLANZ_WATCHES_MOST +          \
              (108 + 2 * sizeof(void *)) * (inputs) + 112 + 4 * sizeof(void *)))
#else
#define GLANZ_DEVICE_SIZE_DRIVES(inputs, segments, fading) ((size_t)0)
#endif
/** The same where the setup says how many looks may fade. */
#ifdef __AVR__
#define GLANZ_DEVICE_SIZE_FADING(led_bytes, outputs, inputs, segments, fading)                                                 \
    ((size_t)(224 + (led_bytes) + 45 * (outputs) + (32 + 6 * GLANZ_INBOX) * (inputs) +                                         \
              (202 + 9 * GLANZ_PARAMS + 150 * GLANZ_GLIDES) * (segments) + (102 + 4 * GLANZ_PARAMS) * (fading)) +              \
     GLANZ_DEVICE_SIZE_DRIVES(inputs, segments, fading))
#else
#define GLANZ_DEVICE_SIZE_FADING(led_bytes, outputs, inputs, segments, fading)                                                 \
    ((size_t)(1072 + (8 * sizeof(void *) + 5 * GLANZ_PARAMS + 32) * GLANZ_PASSING + 20 * GLANZ_ENTRIES_MOST +                  \
              (64 + 16 * GLANZ_NESTING) * GLANZ_PLAYERS + 88 * GLANZ_UNDO + GLANZ_SAVED_MOST + (led_bytes) + 80 * (outputs) +  \
              (68 + 8 * GLANZ_INBOX) * (inputs) + (618 + 20 * GLANZ_PARAMS) * (segments) +                                     \
              (224 + 6 * GLANZ_PARAMS) * (fading)) +                                                                           \
     GLANZ_DEVICE_SIZE_DRIVES(inputs, segments, fading))
#endif
/** Memory of that size, aligned. @param name of the variable. @param led_bytes,outputs,inputs,segments as above. */
#define GLANZ_DEVICE_MEMORY(name, led_bytes, outputs, inputs, segments)                                                        \
    union {                                                                                                                    \
        uint64_t align;                                                                                                        \
        void *align_pointer;                                                                                                   \
        uint8_t bytes[GLANZ_DEVICE_SIZE(led_bytes, outputs, inputs, segments)];                                                \
    } name

/** A rig of one strip on pin 0, all else as it comes: for first programs. Defines const struct glanz_rig NAME, and what
 *  GLANZ_MEMORY_FOR() asks for. @param id its name. @param chip_of_it one of the chips by its name, such as glanz_chip_ws2812b:
 * see enum glanz_chip_memory. @param led_count a constant, 1 to 32,767. */
#define GLANZ_ONE_STRIP(id, chip_of_it, led_count)                                                                             \
    GLANZ_ASSERT((led_count) >= 1 && (led_count) <= 32767, "GLANZ_ONE_STRIP(): expected 1 to 32767 LEDs");                     \
    enum {                                                                                                                     \
        id##_led_bytes = (led_count) * (chip_of_it##_led_memory) + (chip_of_it##_line_memory),                                 \
        id##_output_count = 1,                                                                                                 \
        id##_input_count = 0,                                                                                                  \
        id##_segment_count = 1                                                                                                 \
    };                                                                                                                         \
    GLANZ_ONE_STRIP_RIG(id, chip_of_it, led_count)

/** Memory for a device of a rig that GLANZ_ONE_STRIP() or `glanz source` defined, with as many segments as it says there.
 *  Example: static GLANZ_MEMORY_FOR(memory, pier); */
#define GLANZ_MEMORY_FOR(name, id)                                                                                             \
    GLANZ_DEVICE_MEMORY(name, id##_led_bytes, id##_output_count, id##_input_count, id##_segment_count)

/** A show of one effect, all of its parameters at their standard, over the first surface of a rig. Defines const struct
 *  glanz_show NAME. */
#define GLANZ_ONE_LOOK(id, rig_of_it, effect_of_it) GLANZ_ONE_LOOK_SHOW(id, effect_of_it)

#ifndef __cplusplus
/** What GLANZ_ONE_STRIP() and GLANZ_ONE_LOOK() write out in C; and below in C++, which names no members. */
#define GLANZ_ONE_STRIP_RIG(id, chip_of_it, led_count)                                                                         \
    static GLANZ_CONST struct glanz_supply id##_supply = {GLANZ_TEXT("supply"), 5000, 0};                                      \
    static GLANZ_CONST struct glanz_stretch id##_stretch = {&(chip_of_it), led_count, 0, 0, 0, {0}, {0}, 0, 0};                \
    static GLANZ_CONST struct glanz_output id##_output = {                                                                     \
        .name = GLANZ_TEXT("line"), .stretches = &id##_stretch, .stretch_count = 1, .clock_pin = 1};                           \
    static GLANZ_CONST struct glanz_piece id##_piece = {0, 0, 0, led_count};                                                   \
    static GLANZ_CONST struct glanz_surface id##_surface = {                                                                   \
        .name = GLANZ_TEXT("strip"), .pieces = &id##_piece, .piece_count = 1, .kind = GLANZ_SURFACE_STRIP};                    \
    static GLANZ_CONST struct glanz_rig id = {.name = GLANZ_TEXT(#id),                                                         \
                                              .supplies = &id##_supply,                                                        \
                                              .outputs = &id##_output,                                                         \
                                              .surfaces = &id##_surface,                                                       \
                                              .supply_count = 1,                                                               \
                                              .output_count = 1,                                                               \
                                              .surface_count = 1}
/** The same for GLANZ_ONE_LOOK(). */
#define GLANZ_ONE_LOOK_SHOW(id, effect_of_it)                                                                                  \
    static GLANZ_CONST struct glanz_look id##_look = {.name = GLANZ_TEXT("look"), .effect = &(effect_of_it)};                  \
    static GLANZ_CONST struct glanz_segment id##_segment = {.name = GLANZ_TEXT("all"), .look = &id##_look};                    \
    static GLANZ_CONST struct glanz_show id = {                                                                                \
        .name = GLANZ_TEXT(#id), .looks = &id##_look, .segments = &id##_segment, .look_count = 1, .segment_count = 1}
#elif !defined(__AVR__)
static inline struct glanz_supply glanz_one_supply(void) {
    struct glanz_supply supply = glanz_supply();
    supply.name = "supply";
    supply.millivolts = 5000;
    return supply;
}
static inline struct glanz_stretch glanz_one_stretch(const struct glanz_chip *chip, uint16_t leds) {
    struct glanz_stretch stretch = glanz_stretch();
    stretch.chip = chip;
    stretch.leds = leds;
    return stretch;
}
static inline struct glanz_output glanz_one_output(const struct glanz_stretch *stretch) {
    struct glanz_output output = glanz_output();
    output.name = "line";
    output.stretches = stretch;
    output.stretch_count = 1;
    output.clock_pin = 1;
    return output;
}
static inline struct glanz_piece glanz_one_piece(uint16_t leds) {
    struct glanz_piece piece = glanz_piece();
    piece.leds = leds;
    return piece;
}
static inline struct glanz_surface glanz_one_surface(const struct glanz_piece *piece) {
    struct glanz_surface surface = glanz_surface();
    surface.name = "strip";
    surface.pieces = piece;
    surface.piece_count = 1;
    surface.kind = GLANZ_SURFACE_STRIP;
    return surface;
}
static inline struct glanz_rig glanz_one_rig(const char *name, const struct glanz_supply *supply,
                                             const struct glanz_output *output, const struct glanz_surface *surface) {
    struct glanz_rig rig = glanz_rig();
    rig.name = name;
    rig.supplies = supply;
    rig.outputs = output;
    rig.surfaces = surface;
    rig.supply_count = rig.output_count = rig.surface_count = 1;
    return rig;
}
static inline struct glanz_look glanz_one_look(const struct glanz_effect *effect) {
    struct glanz_look look = glanz_look();
    look.name = "look";
    look.effect = effect;
    return look;
}
static inline struct glanz_segment glanz_one_segment(const struct glanz_look *look) {
    struct glanz_segment segment = glanz_segment();
    segment.name = "all";
    segment.look = look;
    return segment;
}
static inline struct glanz_show glanz_one_show(const char *name, const struct glanz_look *look,
                                               const struct glanz_segment *segment) {
    struct glanz_show show = glanz_show();
    show.name = name;
    show.looks = look;
    show.segments = segment;
    show.look_count = show.segment_count = 1;
    return show;
}
#define GLANZ_ONE_STRIP_RIG(id, chip_of_it, led_count)                                                                         \
    static const struct glanz_supply id##_supply = glanz_one_supply();                                                         \
    static const struct glanz_stretch id##_stretch = glanz_one_stretch(&(chip_of_it), (led_count));                            \
    static const struct glanz_output id##_output = glanz_one_output(&id##_stretch);                                            \
    static const struct glanz_piece id##_piece = glanz_one_piece(led_count);                                                   \
    static const struct glanz_surface id##_surface = glanz_one_surface(&id##_piece);                                           \
    static const struct glanz_rig id = glanz_one_rig(#id, &id##_supply, &id##_output, &id##_surface)
#define GLANZ_ONE_LOOK_SHOW(id, effect_of_it)                                                                                  \
    static const struct glanz_look id##_look = glanz_one_look(&(effect_of_it));                                                \
    static const struct glanz_segment id##_segment = glanz_one_segment(&id##_look);                                            \
    static const struct glanz_show id = glanz_one_show(#id, &id##_look, &id##_segment)
#else
#define GLANZ_ONE_STRIP_RIG(id, chip_of_it, led_count)                                                                         \
    GLANZ_ASSERT(0, "on AVR a rig is defined in a C file: C++ cannot place it in flash")
#define GLANZ_ONE_LOOK_SHOW(id, effect_of_it)                                                                                  \
    GLANZ_ASSERT(0, "on AVR a show is defined in a C file: C++ cannot place it in flash")
#endif

#if GLANZ_FIELDS
#define GLANZ_PICTURES_MOST 32 /**< pictures that a store keeps */

/** Keep a picture in a store under a name, in place of one of that name; no bytes: forget it.
 *  @param name 1 to GLANZ_NAME_MOST bytes of UTF-8, no control characters. @param bytes a picture as glanz_picture_pack() makes
 *  it. @param memory to build the record in: as large as name and bytes and 5 more.
 *  It waits until the picture is kept.
 *  @return GLANZ_ERR_DAMAGED for bytes that are no picture, GLANZ_ERR_FULL, GLANZ_ERR_ABSENT when there is nothing to forget,
 *  GLANZ_ERR_MEMORY, GLANZ_ERR_ARGUMENT for the name, or what the store says: what was kept before stays. */
GLANZ_NODISCARD glanz_status glanz_pictures_keep(struct glanz_store *store, const char *name, const uint8_t *bytes,
                                                 size_t count, uint8_t *memory, size_t size);

/** Load all pictures of a store, for glanz_show_read() or a show in C.
 *  @param pictures room for `capacity` of them; filled with `count`. @param damaged records that did not check and were left
 * out; may be NULL. @param memory lent for as long as the pictures are used.
 *  @return GLANZ_ERR_MEMORY when they do not fit, or what the store says. */
GLANZ_NODISCARD glanz_status glanz_pictures_load(struct glanz_store *store, uint8_t *memory, size_t size,
                                                 struct glanz_picture *pictures, uint8_t capacity, uint8_t *count,
                                                 uint8_t *damaged);
#endif

/** Start: lay everything out, look what was saved, begin dark with the show's start action or with what was last showing. With
 * a store, a device that was reset three times within its first GLANZ_EARLY_MS begins with a dim light and without its show
 *  instead: see glanz_device_safe(). This writes to the store, and waits for it.
 *  @param memory lent for as long as the device is used; aligned for a pointer and a uint64_t.
 *  @return GLANZ_ERR_ARGUMENT (also for a port that lacks a required function), GLANZ_ERR_RIG, GLANZ_ERR_SHOW, or
 *          GLANZ_ERR_MEMORY with fault->needed. @param fault may be NULL. */
GLANZ_NODISCARD static inline glanz_status glanz_device_start(struct glanz_device **device, void *memory, size_t size,
                                                              const struct glanz_setup *setup, struct glanz_fault *fault);

/** The same, with the program's own GLANZ_LAYOUT: @return GLANZ_ERR_ARGUMENT when it is not the library's. */
GLANZ_NODISCARD glanz_status glanz_device_start_as(struct glanz_device **device, void *memory, size_t size,
                                                   const struct glanz_setup *setup, struct glanz_fault *fault, uint32_t layout);

static inline glanz_status glanz_device_start(struct glanz_device **device, void *memory, size_t size,
                                              const struct glanz_setup *setup, struct glanz_fault *fault) {
    return glanz_device_start_as(device, memory, size, setup, fault, (uint32_t)GLANZ_LAYOUT);
}

/** One frame: do what is due, shade, and hand the bytes to the port, all outputs together.
 *  @param now_us microseconds; may wrap. A time that stands still or runs back moves nothing.
 *  @return GLANZ_OK; GLANZ_ERR_BUSY when the outputs were still sending (nothing is lost); GLANZ_ERR_PORT when the port
 *          refused or the sending never ended (counted; the next frame tries again); GLANZ_ERR_STATE from inside a callback. */
glanz_status glanz_device_frame(struct glanz_device *device, uint32_t now_us);

/** In the time that is left until the next frame: a frame that waits in its second buffer goes out when the outputs are free;
 * steps of saves are done that stall the CPU no longer than that. Once after each frame will do; where shading and sending
 * together take longer than a frame, call it whenever the outputs may have become free, or some frames are left out. A frame by
 * itself does one step of a save that stalls nothing, and any step when nothing moves or when it has waited for
 * GLANZ_PATIENCE_MS.
 *  @param spare_us until the next frame is due. */
void glanz_device_idle(struct glanz_device *device, uint32_t spare_us);
#define GLANZ_PATIENCE_MS 5000 /**< how long a save may wait before a frame waits for it */
#define GLANZ_EARLY_MS 10000   /**< a reset before this is an early one */

/** Has it begun in the safe look, and after how many early resets? 0: no. Inputs do nothing then; another show can be taken. */
uint8_t glanz_device_safe(const struct glanz_device *device);
/** Begin the show after all. @return GLANZ_ERR_STATE when it runs already, or as glanz_device_start(). */
GLANZ_NODISCARD glanz_status glanz_device_leave_safe(struct glanz_device *device);

#if GLANZ_CALENDAR
/** Tell UTC, seconds since 1970; see glanz_control_clock(). */
GLANZ_NODISCARD glanz_status glanz_device_utc(struct glanz_device *device, uint32_t utc);
#endif

/** Push a raw edge or a value in; see glanz_inbox_push(). From an interrupt or another thread, at any moment after the start,
 * also while a rig or a show is taken. */
glanz_status glanz_device_push(struct glanz_device *device, uint8_t input, uint16_t value, uint32_t time_us);

/** Take another show, checked against the rig that runs, whole; see glanz_control_set_show().
 *  @param trial_ms 0: for good. Else it goes back by itself after this time, smoothly, unless glanz_device_keep() is called;
 * the old show is lent until then.
 *  @return GLANZ_ERR_SHOW, GLANZ_ERR_MEMORY, GLANZ_ERR_BUSY while another rig is on its way, or on trial: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_device_set_show(struct glanz_device *device, GLANZ_CONST struct glanz_show *show,
                                                   uint32_t trial_ms, struct glanz_fault *fault);

/** Take another rig, with a show made for it, at the next frame; begins dark.
 *  @param trial_ms 0: for good. Else it goes back by itself after this time unless glanz_device_keep() is called; the
 *  old rig and show are lent until then.
 *  @return GLANZ_ERR_RIG, GLANZ_ERR_SHOW, GLANZ_ERR_MEMORY when it does not fit the device's memory: nothing changes. */
GLANZ_NODISCARD glanz_status glanz_device_set_rig(struct glanz_device *device, GLANZ_CONST struct glanz_rig *rig,
                                                  GLANZ_CONST struct glanz_show *show, uint32_t trial_ms,
                                                  struct glanz_fault *fault);

/** Confirm the rig or the show on trial. @return GLANZ_ERR_STATE when none is on trial. */
GLANZ_NODISCARD glanz_status glanz_device_keep(struct glanz_device *device);

/** Is a rig or a show on trial, and for how long still, in milliseconds? 0: none is. */
uint32_t glanz_device_trial_ms(const struct glanz_device *device);

/** Does the device still use any of this memory: as its rig or show, as one on trial or on its way, for what is shown, fades
 * out, can be undone or comes back, as an effect, its port, its store or a queue? 0: it can be freed, or unloaded. */
int glanz_device_uses(const struct glanz_device *device, const void *memory, size_t size);

/** Save what shows now under a name: begins it; it is confirmed with GLANZ_HAPPENED_SAVED some frames later.
 *  @param segments bit i: segment i is covered; UINT64_MAX: all. @param aspects enum glanz_aspect, or-ed; GLANZ_ASPECTS: all.
 *  @param replace 0: an existing preset of that name is left alone and GLANZ_ERR_STATE returned.
 *  @return GLANZ_ERR_BUSY while another save is under way, GLANZ_ERR_FULL, GLANZ_ERR_ABSENT without a store, GLANZ_ERR_ARGUMENT
 * for the name, or what the store says. */
GLANZ_NODISCARD glanz_status glanz_device_save(struct glanz_device *device, const char *name, uint64_t segments,
                                               uint8_t aspects, uint8_t replace);

/** Recall a preset by name: a saved one, else one of the show's. @param over_ms GLANZ_OWN_TIME: the show's change time.
 *  @param missed may be NULL: parts of a saved preset that fit nothing any more. @return GLANZ_ERR_ABSENT. */
GLANZ_NODISCARD glanz_status glanz_device_recall(struct glanz_device *device, const char *name, uint32_t over_ms,
                                                 struct glanz_missed *missed);

/** Remove a saved preset. @return GLANZ_ERR_ABSENT, GLANZ_ERR_BUSY, or what the store says. */
GLANZ_NODISCARD glanz_status glanz_device_forget(struct glanz_device *device, const char *name);
/** Give a saved preset another name. @return GLANZ_ERR_STATE when there is one of that name already; as glanz_device_save(). */
GLANZ_NODISCARD glanz_status glanz_device_rename(struct glanz_device *device, const char *name, const char *other);
/** Save it once more, under another name. */
GLANZ_NODISCARD glanz_status glanz_device_copy(struct glanz_device *device, const char *name, const char *other);
/** Put it at another place in the order, counted from 0. */
GLANZ_NODISCARD glanz_status glanz_device_move(struct glanz_device *device, const char *name, uint8_t place);

/** Names of saved presets, in their order, by number from 0. @param name GLANZ_NAME_MOST + 1 bytes. @return GLANZ_ERR_ABSENT
 * past the last. */
GLANZ_NODISCARD glanz_status glanz_device_saved(const struct glanz_device *device, uint8_t number, char *name);

/** Is a save under way? */
int glanz_device_saving(const struct glanz_device *device);

#if GLANZ_SEQUENCES
/* ---- one thing of what shows, changed by one call: undone by the action "undo", gliding where only numbers differ ---- */

/** Set a number of what a segment shows, such as a speed, a share or a choice, by their names.
 *  Example: glanz_device_set(device, "rail", "speed", GLANZ_FIXED(2.5), GLANZ_UNIT_LEDS, 500, &fault);
 *  @param number as in struct glanz_setting. @param unit NONE: the parameter's own. @param over_ms GLANZ_OWN_TIME: the show's.
 *  @param fault may be NULL; says which name there is not, or what was expected.
 *  @return GLANZ_ERR_ABSENT: no such segment or parameter, the segment is dark, or no controller; GLANZ_ERR_ARGUMENT: out of
 * its bounds, or no number. */
GLANZ_NODISCARD glanz_status glanz_device_set(struct glanz_device *device, const char *segment, const char *param,
                                              int32_t number, enum glanz_unit unit, uint32_t over_ms,
                                              struct glanz_fault *fault);
/** The same for a colour. */
GLANZ_NODISCARD glanz_status glanz_device_set_color(struct glanz_device *device, const char *segment, const char *param,
                                                    glanz_color color, uint32_t over_ms, struct glanz_fault *fault);
/** Another palette for it. @param gradient lent until glanz_device_uses() says 0. */
GLANZ_NODISCARD glanz_status glanz_device_set_palette(struct glanz_device *device, const char *segment,
                                                      GLANZ_CONST struct glanz_gradient *gradient, uint32_t over_ms,
                                                      struct glanz_fault *fault);
/** Another text, picture, pattern, or other marks, as its effect shows. @param content struct glanz_writing and its kin, lent
 * until glanz_device_uses() says 0. */
GLANZ_NODISCARD glanz_status glanz_device_set_content(struct glanz_device *device, const char *segment,
                                                      GLANZ_CONST void *content, uint32_t over_ms, struct glanz_fault *fault);
#endif

/** Do an action of the show now. */
GLANZ_NODISCARD glanz_status glanz_device_act(struct glanz_device *device, GLANZ_CONST struct glanz_action *action);

/** Be told of what happens. */
void glanz_device_listen(struct glanz_device *device, glanz_listener listener, void *user);

/** The engine and the controller, for their own calls; NULL for NULL. */
struct glanz_engine *glanz_device_engine(struct glanz_device *device);
/** The controller; NULL where none is linked. */
struct glanz_control *glanz_device_control(struct glanz_device *device);
/** What runs. */
GLANZ_CONST struct glanz_rig *glanz_device_rig(const struct glanz_device *device);
/** The show that runs. */
GLANZ_CONST struct glanz_show *glanz_device_show(const struct glanz_device *device);
/** Time of the newest frame since the start, microseconds, and the counts. */
glanz_us glanz_device_clock(const struct glanz_device *device);
/** The same now, by the port's clock: when a change that is said now begins (glanz_change.at_us). */
glanz_us glanz_device_now(const struct glanz_device *device);
/** The counts since the start; all 0 for NULL. */
struct glanz_counts glanz_device_counts(const struct glanz_device *device);

/* ---- commands with answers: for programs with tasks, and for callbacks ---- */

struct glanz_command;

/** What a command does. Naming one links it. */
struct glanz_command_kind {
    glanz_status (*run)(struct glanz_device *device, const struct glanz_command *command); /**< what is called */
    uint8_t saves; /**< 1: it writes to the store: one at a time, and rationed */
};
extern const struct glanz_command_kind glanz_command_act;    /**< `action`, copied; its look is lent until the answer */
extern const struct glanz_command_kind glanz_command_recall; /**< preset `name`, over `over_ms` */
extern const struct glanz_command_kind
    glanz_command_call; /**< `call` with `user`: a patch, another rig, whatever the program may do */
#if GLANZ_SAVED_MOST > 0
extern const struct glanz_command_kind glanz_command_save;   /**< `name`, `segments`, `aspects`, `replace` */
extern const struct glanz_command_kind glanz_command_rename; /**< `name` to `other` */
extern const struct glanz_command_kind glanz_command_copy;   /**< `name` as `other` */
extern const struct glanz_command_kind glanz_command_move;   /**< `name` to `place` */
extern const struct glanz_command_kind glanz_command_forget; /**< `name` */
#endif

/** A command; what its kind does not need is 0. Parameters as for the function of that name. What the action points to, its
 * name too, is lent until the answer. */
struct glanz_command {
    const struct glanz_command_kind *kind;                         /**< what to do */
    struct glanz_action action;                                    /**< of glanz_command_act */
    glanz_status (*call)(struct glanz_device *device, void *user); /**< of glanz_command_call */
    void *user;                                                    /**< handed to it */
    uint64_t segments;                                             /**< bit i: segment i */
    uint32_t over_ms;                                              /**< milliseconds; GLANZ_OWN_TIME */
    uint8_t aspects, replace, place; /**< enum glanz_aspect, or-ed; 1: over one of that name; in the order, from 0 */
    char name[GLANZ_NAME_MOST + 1];  /**< of the preset */
    char other[GLANZ_NAME_MOST + 1]; /**< of what becomes of it */ /**< of what becomes of it */
};

/** Commands of one producer: a task, an interrupt, or the callbacks. Each has a queue of its own. */
struct glanz_queue;

/** Memory for a queue, bytes. @param capacity commands whose answers are not taken yet. */
size_t glanz_queue_size(uint8_t capacity);

/** Lay a queue out in memory, which is lent as long as a device serves it. @param memory aligned for a uint64_t.
 *  @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_queue_start(struct glanz_queue **queue, void *memory, size_t size, uint8_t capacity);

/** Let a device do what is posted to a queue: at the beginning of each frame, at most four commands, in their order. One that
 *  saves waits until the save before has ended, and for its turn: six at once, in the long run one in ten seconds, whoever
 * posts them; commands behind it wait as well. Saves of the same name, segments and aspects that follow each other at once are
 * done as one.
 *  @return GLANZ_ERR_STATE when it is served already. */
GLANZ_NODISCARD glanz_status glanz_device_serve(struct glanz_device *device, struct glanz_queue *queue);

/** Post a command, which is copied. From the queue's producer, at any moment.
 *  @param ticket filled, to ask for the answer with; NULL: nobody asks.
 *  @return GLANZ_ERR_FULL while so many are not done, or their answers not taken; GLANZ_ERR_ARGUMENT. */
GLANZ_NODISCARD glanz_status glanz_queue_post(struct glanz_queue *queue, const struct glanz_command *command, uint16_t *ticket);

/** Take the answer to a command. From the queue's producer.
 *  @param answer filled with what the command has come to: GLANZ_OK, or why it failed, as the function of that name says.
 *  @return GLANZ_OK; GLANZ_ERR_BUSY while it is not done; GLANZ_ERR_ABSENT for a ticket that there is not. */
GLANZ_NODISCARD glanz_status glanz_queue_answer(struct glanz_queue *queue, uint16_t ticket, glanz_status *answer);

GLANZ_HEADER_END
#endif
