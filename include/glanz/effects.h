/* SPDX-License-Identifier: MIT */
/** @file
 *  Effects: the contract and the catalogue. An effect answers one question: what light is at these places, now?
 *  Write one by filling a `struct glanz_effect`; see examples/effects/lighthouse.c.
 */
#ifndef GLANZ_EFFECTS_H
#define GLANZ_EFFECTS_H

#include <glanz/color.h>
#include <glanz/layout.h>
#include <glanz/paint.h>

GLANZ_HEADER_BEGIN

#define GLANZ_COLORS 3 /**< of the parameters of an effect, colours */
#ifdef __AVR__
#define GLANZ_RATES 1 /**< and rates: how fast it moves, and where there are two, something else about it */
#else
#define GLANZ_RATES 2 /**< and rates: how fast it moves, and where there are two, something else about it */
#endif
#define GLANZ_KEPT 6 /**< numbers that an effect keeps from step for shade */

/** What a parameter is, and what its number means. */
enum glanz_param_kind {
    GLANZ_PARAM_COLOR,  /**< a glanz_color */
    GLANZ_PARAM_LENGTH, /**< 16.16 LEDs (GLANZ_UNIT_LEDS), or 16.16 lengths of the segment (GLANZ_UNIT_LENGTHS) */
    GLANZ_PARAM_RATE,   /**< 16.16 a second (LEDS, LENGTHS, PASSES), or milliseconds for one pass (GLANZ_UNIT_PASS_TIME) */
    GLANZ_PARAM_SHARE,  /**< 0 to 65536 for 0 to 100 % */
    GLANZ_PARAM_COUNT,  /**< a whole number */
    GLANZ_PARAM_CHOICE, /**< index into `choices` */
    GLANZ_PARAM_FLAG,   /**< 0 or 1 */
    GLANZ_PARAM_TURN,   /**< an angle: 0 to 65535 of a full turn */
    GLANZ_PARAM_SIGNAL  /**< 1 + the index of a signal; 0: none. For an effect with GLANZ_NEEDS_PULSES, which has one */
};

/** The unit a length or a rate is given in. */
enum glanz_unit {
    GLANZ_UNIT_NONE,
    GLANZ_UNIT_LEDS,     /**< LEDs, or LEDs a second: physical motion */
    GLANZ_UNIT_LENGTHS,  /**< lengths of the segment, or lengths a second: the same look on 20 LEDs and on 2,000 */
    GLANZ_UNIT_PASSES,   /**< passes a second; what a pass is, the effect says */
    GLANZ_UNIT_PASS_TIME /**< milliseconds for one pass; negative runs backwards; 0 stands still */
};

/** 16.16 from a decimal constant, for lengths and rates: GLANZ_FIXED(2.5). Folded by the compiler. */
#define GLANZ_FIXED(number) ((int32_t)((number)*65536 + ((number) < 0 ? -0.5 : 0.5)))
/** A share from percent: GLANZ_PERCENT(40). */
#define GLANZ_PERCENT(percent) ((int32_t)(((percent)*65536L + 50) / 100))
/** A lightness (0 to 65535) from percent. */
#define GLANZ_LIGHTNESS(percent) ((uint16_t)((percent)*65535L / 100))

/** How a parameter goes over to another number. Choices, counts and flags always crossfade. */
enum glanz_param_change {
    GLANZ_CHANGE_GLIDES,     /**< evenly, all numbers between */
    GLANZ_CHANGE_CROSSFADES, /**< from one look to the other: a pitch, a draw, whose glide would fling LEDs about; a rate only
                               where it turns round */
    GLANZ_CHANGE_FOLLOWS     /**< the same where it is set; a drive takes it through all numbers between: a place or a size that
                               goes     where a hand moves it */
};

/** One parameter of an effect. */
struct glanz_param {
    GLANZ_CONST char *name;                 /**< plain words, as in a show document */
    GLANZ_CONST char *description;          /**< one line: what it does; NULL without GLANZ_DESCRIPTIONS */
    uint8_t kind;                           /**< enum glanz_param_kind */
    uint8_t unit;                           /**< of `standard`: enum glanz_unit */
    uint8_t change;                         /**< enum glanz_param_change */
    int32_t low, high;                      /**< bounds of the number, in every unit it may be given in; rates: of its size */
    int32_t standard;                       /**< what it is when nothing is said */
    GLANZ_CONST char *GLANZ_CONST *choices; /**< names of the choices, high + 1 of them; else NULL */
};

/** A written pattern: blocks of so many LEDs of one colour, one after another. */
struct glanz_block {
    uint16_t leds;     /**< how many LEDs it takes */
    glanz_color color; /**< not GLANZ_NAMED */
};
/** The whole of a written pattern. */
struct glanz_pattern {
    uint8_t kind;                           /**< GLANZ_CONTENT_PATTERN */
    GLANZ_CONST char *text;                 /**< as it was written: "3 amber, 1 white, 2 teal"; may be NULL */
    GLANZ_CONST struct glanz_block *blocks; /**< a list of count */
    uint16_t count;
    uint16_t leds; /**< sum of the blocks */
};

/** Everything an effect knows at one frame. The engine fills it; shade may only read it. */
struct glanz_frame {
    uint16_t length;                             /**< points along the segment, 1 to 32,767 */
    uint8_t closed;                              /**< 1 where the end joins the start */
    uint8_t params_changed;                      /**< for step: 1 when numbers have changed since its last call */
    uint32_t seed;                               /**< differs from segment to segment, the same in each run of a show */
    GLANZ_CONST struct glanz_gradient *gradient; /**< the look's palette; never NULL */
    GLANZ_CONST void *content;                   /**< of the kind the effect needs; NULL when it needs none */
    int32_t number[GLANZ_PARAMS];                /**< by parameter; lengths in 16.16 points, whatever unit they came in */
    struct glanz_light color[GLANZ_COLORS];      /**< colour parameters in order */
    uint32_t turn[GLANZ_RATES];                  /**< rate parameters in order: how much of the pass is done, 0 to 2^32 - 1 */
    int16_t lap[GLANZ_RATES];                    /**< passes completed; folded back by 8,192 beyond 16,384 */
    int32_t kept[GLANZ_KEPT];                    /**< what step worked out for shade */
#if GLANZ_FIELDS
    uint16_t rows;                   /**< rows of the field; `length` is its columns. 1 for effects for lines */
    uint16_t capacity;               /**< bytes of memory */
    uint32_t elapsed_us;             /**< for step: time since its last call */
    void *memory;                    /**< what the effect remembers, 0 at first; NULL: there is no room, do without */
    const struct glanz_world *world; /**< clock and values */
    uint16_t pulses; /**< for step, with GLANZ_NEEDS_PULSES: how often its signal has risen above its half since the start */
    uint32_t pulse_turn; /**< how much of a pass has gone by since it did so last, 0 to 2^32 - 1; at most a pass */
#endif
};

#if GLANZ_FIELDS
/** Where LEDs stand in a field, for a run of them. */
struct glanz_places {
    const glanz_place *x;  /**< from the left edge */
    const glanz_place *y;  /**< from the top edge */
    const uint16_t *index; /**< counted along the data line from the segment's first; only for GLANZ_NEEDS_INDEX */
};
#endif

/** Needs of an effect, or-ed. */
enum glanz_need {
    GLANZ_NEEDS_GRADIENT = 1, /**< shows the look's palette */
    GLANZ_NEEDS_INDEX = 2,    /**< places with their index along the line */
    GLANZ_NEEDS_CLOCK = 8,    /**< moves on by itself, whatever its rate: `step` is called every frame and says so */
    GLANZ_NEEDS_COVER = 4,    /**< tells how much it covers what lies under it */
    GLANZ_NEEDS_SOUND = 32,   /**< lives on what a microphone hears: see glanz_frame_heard() */
    GLANZ_NEEDS_PULSES = 16   /**< reacts to what a signal does: step is told in `pulses` */
};

/** What a step tells. */
enum glanz_step {
    GLANZ_STEP_MOVES = 1, /**< the light may change from now on by itself */
    GLANZ_STEP_PASS = 2   /**< `pass` tells another number from now on */
};

#define GLANZ_EFFECT_VERSION 4 /**< of what effects and the engine have agreed on: this page */

/** An effect. One const object; linked only when something names it. */
struct glanz_effect {
    GLANZ_CONST char *name;                 /**< for what one sees */
    GLANZ_CONST char *description;          /**< one line: what it shows and what a pass is; NULL without GLANZ_DESCRIPTIONS */
    GLANZ_CONST struct glanz_param *params; /**< a list of param_count */
    uint8_t version;                        /**< GLANZ_EFFECT_VERSION; looks with an effect of another are refused */
    uint8_t param_count;
    uint8_t needs;   /**< enum glanz_need */
    uint8_t content; /**< enum glanz_content_kind: what the look must have */

    /** Points of one pass, 16.16 and above 0: what GLANZ_UNIT_LEDS and LENGTHS are measured against. NULL: the length. */
    glanz_place (*pass)(const struct glanz_frame *frame);
#if GLANZ_RATES > 1
    glanz_place (*second_pass)(const struct glanz_frame *frame); /**< the same of the second rate */
#endif

#if GLANZ_GLIDES
    /** Where what moves must stay while a number changes on which `pass` hangs: the turn at which it stands where it stood with
     * a pass of `before` points. `now` has the new numbers and the old turn. NULL: the turn stays. */
    uint32_t (*anchor)(const struct glanz_frame *frame, glanz_place before);
#endif

    /** Once a frame: work out `kept`, which stays as it was left; what depends on numbers only need be worked out anew where
     *  `fresh` says so. May be NULL. Phases have moved on already.
     *  @return enum glanz_step, or-ed; 0 when the light stands still until a parameter changes. */
    uint8_t (*step)(struct glanz_frame *frame);

    /** Are numbers that are each within their bounds wrong together? Called when a look is validated, with glanz_part_checks
     *  only. May be NULL. @param number by parameter, in the unit that it was given in. @return what was expected, in words
     *  (GLANZ_TEXT); NULL: nothing is wrong. */
    GLANZ_CONST char *(*validate)(const int32_t *number);

    /** The light at `count` places of a line. Pure: it may be asked again, in any order, in parts. `light` is written whole. An
     *  effect has this or `shade_field`. */
    void (*shade)(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count);

#if GLANZ_FIELDS
    /** The same in a field. @param cover with GLANZ_NEEDS_COVER: written too, 0 to 65535; `light` is then times that. Else
     * NULL. */
    void (*shade_field)(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                        const struct glanz_places *places, uint8_t count);

    /** Bytes it wants to remember in, for a field and a content; at most 65,528. NULL: none. */
    uint32_t (*memory)(const struct glanz_frame *frame);

    GLANZ_CONST struct glanz_gradient *gradient; /**< of looks that name no palette; NULL: glanz_gradient_standard */
    uint8_t least_columns, least_rows;           /**< smallest field it looks right on; 0: any */
#endif
};

/** Effects of your own for the command line: a C file that ends with GLANZ_EFFECTS_SHARED(&one, &another); is what
 *  "glanz --effects FILE" takes, as it is or as a shared object built with -DGLANZ_SHARED. Nothing is left of it in a firmware:
 *  there a show names the effects. */
struct glanz_effect_set {
    uint32_t version;                                      /**< GLANZ_EFFECT_VERSION */
    uint32_t effect_size, frame_size;                      /**< bytes: the same where both sides have the same options */
    GLANZ_CONST struct glanz_effect *GLANZ_CONST *effects; /**< closed by NULL */
};
#ifdef GLANZ_SHARED
extern const struct glanz_effect_set glanz_effect_set; /**< what is looked for in a shared object */
/** What a shared object of effects tells the tool. Arguments: the addresses of its effects. */
#define GLANZ_EFFECTS_SHARED(...)                                                                                              \
    static GLANZ_CONST struct glanz_effect *GLANZ_CONST glanz_effects_shared[] = {__VA_ARGS__, NULL};                          \
    const struct glanz_effect_set glanz_effect_set = {GLANZ_EFFECT_VERSION, sizeof(struct glanz_effect),                       \
                                                      sizeof(struct glanz_frame), glanz_effects_shared}
#else
/** What a shared object of effects tells the tool; nothing anywhere else. Arguments: the addresses of its effects. */
#define GLANZ_EFFECTS_SHARED(...) struct glanz_effect_set
#endif

/** The catalogue: a list of pointers, closed by NULL. Naming it links every effect; a program that names single effects
 *  links only those. */
extern GLANZ_CONST struct glanz_effect *GLANZ_CONST glanz_effects[];

extern GLANZ_CONST struct glanz_effect glanz_effect_plain; /**< one colour everywhere */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_breathing; /**< one colour that brightens and dims evenly; a pass is one breath */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_comet; /**< a head with a tail that dies away; a pass is once along and out, once round, or there and back */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_escort; /**< a run, a second colour behind it, then dark, moving along; a pass is one of each */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_filling; /**< a run that grows and shrinks; a pass is one filling, there and back where it goes back */
extern GLANZ_CONST struct glanz_effect glanz_effect_flow; /**< the palette along the line, flowing; a pass is once through it */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_motley; /**< every point a random colour that changes now and then; a pass is one colour */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_needle; /**< a point at a bearing: round a ring, or along a line; it stands until its bearing changes */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_pattern; /**< blocks of colours as written, repeating; a pass is the whole pattern once */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_procession; /**< runs with gaps that follow each other; a pass is one run and one gap */
extern GLANZ_CONST struct glanz_effect glanz_effect_swell; /**< waves of light that roll along; a pass is one wave */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_twinkle; /**< single LEDs light up and die away; a pass is one such twinkle */
extern GLANZ_CONST struct glanz_effect glanz_effect_walker; /**< a running dot; a pass is once round, or there and back */
#if GLANZ_FIELDS
extern GLANZ_CONST struct glanz_effect
    glanz_effect_bars; /**< bars in colours of the palette that move in any direction; a pass is once through the colours */
extern GLANZ_CONST struct glanz_effect glanz_effect_beam; /**< a beam that sweeps round, with afterglow; a pass is one turn */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_dissolve; /**< LEDs go over into a colour one by one, in no order, and back; a pass is there and back */
extern GLANZ_CONST struct glanz_effect glanz_effect_embers; /**< coals that glow each in its own time, and a wind over them; in
                                                               a pass each glows up two to five times */
extern GLANZ_CONST struct glanz_effect glanz_effect_glints; /**< flashes as of facets that a light meets, on top of what lies
                                                               under them; a pass takes the light round once */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_helix; /**< two strands that turn about an axis, with depth; a pass is one turn */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_rope; /**< a twisted rope that runs along, its strands in colours of the palette; a pass is one lay */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_seabed; /**< the net of light that waves throw on the ground; a pass changes it once all through */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_fogbank; /**< banks of fog over what lies under them; a pass is one that drifts by */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_shoal; /**< fish that swim together and turn one after another; a pass is one round */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_snowfall; /**< flakes that sink and settle, and snow that melts away; in a pass a slow flake comes down once */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_stars; /**< stars that rush by, out of the middle; a pass takes each from there to the edge */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_surf; /**< waves that run up the sand with foam and drain; a pass is one wave */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_wake; /**< something passes, and its wake runs aside and dies away; a pass is once over the field */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_waves; /**< the sea from aside, or its swell along a line; a pass is the longest wave once */
extern GLANZ_CONST struct glanz_effect glanz_effect_weed; /**< stems on the ground that sway; a pass is once to and fro */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_clock_face; /**< the time as a face with hands, or as points on a ring or a line; it goes with the time */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_gauge; /**< a value on a scale with marks: a bar or a pointer; it stands until its value changes */
extern GLANZ_CONST struct glanz_effect glanz_effect_lanterns; /**< a row of lanterns that swing; a pass is once to and fro */
extern GLANZ_CONST struct glanz_effect glanz_effect_sea_mark; /**< the rhythm of a light at sea: flashing, occulting, isophase,
                                                                 quick, Morse; a pass is its period */
extern GLANZ_CONST struct glanz_effect glanz_effect_sea_sparkle; /**< dark water that lights up in points where it is stirred,
                                                                    by a signal or by itself; a stir dies away in a pass */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_clouds; /**< soft clouds that drift and change; a pass changes them once all through */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_colony; /**< cells that are born and die by the rules of the game of life; a pass is a generation */
extern GLANZ_CONST struct glanz_effect glanz_effect_fire; /**< flames that rise; a pass is eight flames high */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_fireworks; /**< shells that climb and burst, in colours of the palette; a pass is one shell */
extern GLANZ_CONST struct glanz_effect glanz_effect_fountain; /**< drops that shoot up and fall back, without pause or when a
                                                                 signal rises; a pass is the longest flight */
extern GLANZ_CONST struct glanz_effect glanz_effect_marbles;  /**< marbles that are thrown up, bounce and knock against each
                                                                 other; a pass is a fall through the whole height */
extern GLANZ_CONST struct glanz_effect glanz_effect_tidemark; /**< what a level was, moving along: as light on a line, as
                                                                 columns in a field; a pass is the length */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_marked; /**< LEDs coloured by hand, one by one, by stretches and by rectangles */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_picture; /**< a still or moving picture; a pass takes it through the field once, or one tile on */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_plasma; /**< soft waves that run through each other; a pass brings all of them round once */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_rain; /**< drops that fall, in colours of the palette; in a pass a slow drop falls twice */
extern GLANZ_CONST struct glanz_effect glanz_effect_ripples; /**< rings on water, in colours of the palette, always or when a
                                                                signal rises; a pass takes a ring over the whole field */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_spokes; /**< spokes of the palette that turn about the middle, or a spiral; a pass is one turn */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_text; /**< lines of text, standing, moving or letter by letter; a pass takes it through the field once */
#if GLANZ_DRIVES_MOST > 0
extern GLANZ_CONST struct glanz_effect glanz_effect_columns; /**< the bands of a sound: columns with peaks that fall, on a line
                                                                stretches as bright; a pass is the fall of a peak */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_loudness; /**< how loud a sound is: a bar that is even in dB, with a peak that falls; a pass is its fall */
extern GLANZ_CONST struct glanz_effect glanz_effect_sonogram; /**< what was heard, moving along: bands as rows of a field, on a
                                                                 line as colours; a pass is the length */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_waveform; /**< the shape of a sound: a line in a field, on a line of LEDs brightness */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_throb; /**< all lights up when a signal rises, such as a beat, and dies away within a pass */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_sparks; /**< some light up anywhere when a signal rises, and die away; a pass is the longest that one glows */
extern GLANZ_CONST struct glanz_effect
    glanz_effect_hoppers; /**< points that hop to other places when a signal rises, such as a beat; a pass is a hop */
#endif
#endif

/** Do two contents show the same? Either may be NULL. */
int glanz_content_equal(GLANZ_CONST void *a, GLANZ_CONST void *b);

/** The effect of that name in the catalogue, or NULL. */
GLANZ_CONST struct glanz_effect *glanz_effect_find(const char *name);

/** Parameters of each effect, by index: what a look written in C says. */
enum { GLANZ_PLAIN_COLOR };
enum { GLANZ_BREATHING_COLOR, GLANZ_BREATHING_LOW, GLANZ_BREATHING_SPEED };
enum { GLANZ_FILLING_COLOR, GLANZ_FILLING_BACKGROUND, GLANZ_FILLING_FROM, GLANZ_FILLING_WAY, GLANZ_FILLING_SPEED };
enum { GLANZ_WALKER_COLOR, GLANZ_WALKER_BACKGROUND, GLANZ_WALKER_SIZE, GLANZ_WALKER_WAY, GLANZ_WALKER_SPEED };
enum { GLANZ_COMET_COLOR, GLANZ_COMET_BACKGROUND, GLANZ_COMET_TAIL, GLANZ_COMET_WAY, GLANZ_COMET_SPEED };
enum {
    GLANZ_ESCORT_FIRST,
    GLANZ_ESCORT_SECOND,
    GLANZ_ESCORT_BACKGROUND,
    GLANZ_ESCORT_FIRST_LENGTH,
    GLANZ_ESCORT_SECOND_LENGTH,
    GLANZ_ESCORT_GAP,
    GLANZ_ESCORT_SPEED
};
enum {
    GLANZ_PROCESSION_COLOR,
    GLANZ_PROCESSION_BACKGROUND,
    GLANZ_PROCESSION_SIZE,
    GLANZ_PROCESSION_GAP,
    GLANZ_PROCESSION_SPEED
};
enum { GLANZ_PATTERN_SPEED };
enum { GLANZ_FLOW_SPAN, GLANZ_FLOW_FOLD, GLANZ_FLOW_SPEED };
enum { GLANZ_SWELL_COLOR, GLANZ_SWELL_BACKGROUND, GLANZ_SWELL_LENGTH, GLANZ_SWELL_SPEED };
enum { GLANZ_TWINKLE_BACKGROUND, GLANZ_TWINKLE_PART, GLANZ_TWINKLE_SPEED };
enum { GLANZ_MOTLEY_CHANGE, GLANZ_MOTLEY_SPEED };
enum { GLANZ_NEEDLE_COLOR, GLANZ_NEEDLE_BACKGROUND, GLANZ_NEEDLE_BEARING, GLANZ_NEEDLE_WIDTH };
#if GLANZ_FIELDS
enum {
    GLANZ_BARS_BACKGROUND,
    GLANZ_BARS_WIDTH,
    GLANZ_BARS_GAP,
    GLANZ_BARS_COLORS,
    GLANZ_BARS_PROFILE,
    GLANZ_BARS_BEARING,
    GLANZ_BARS_SPEED
};
enum {
    GLANZ_BEAM_COLOR,
    GLANZ_BEAM_GLOW,
    GLANZ_BEAM_BACKGROUND,
    GLANZ_BEAM_COUNT,
    GLANZ_BEAM_WIDTH,
    GLANZ_BEAM_AFTER,
    GLANZ_BEAM_SPEED
};
enum {
    GLANZ_DISSOLVE_COLOR,
    GLANZ_DISSOLVE_BACKGROUND,
    GLANZ_DISSOLVE_CLEAR,
    GLANZ_DISSOLVE_SOFT,
    GLANZ_DISSOLVE_ONCE,
    GLANZ_DISSOLVE_SPEED
};
enum { GLANZ_EMBERS_HEAT, GLANZ_EMBERS_WIND, GLANZ_EMBERS_SIZE, GLANZ_EMBERS_SPEED };
enum { GLANZ_GLINTS_PART, GLANZ_GLINTS_LENGTH, GLANZ_GLINTS_SPREAD, GLANZ_GLINTS_SPEED };
enum { GLANZ_HELIX_FIRST, GLANZ_HELIX_SECOND, GLANZ_HELIX_BACKGROUND, GLANZ_HELIX_PITCH, GLANZ_HELIX_WIDTH, GLANZ_HELIX_SPEED };
enum { GLANZ_ROPE_STRANDS, GLANZ_ROPE_LAY, GLANZ_ROPE_GROOVE, GLANZ_ROPE_SPEED };
enum { GLANZ_SEABED_SIZE, GLANZ_SEABED_CONTRAST, GLANZ_SEABED_SPEED };
enum { GLANZ_FOGBANK_COLOR, GLANZ_FOGBANK_DENSITY, GLANZ_FOGBANK_SIZE, GLANZ_FOGBANK_LOW, GLANZ_FOGBANK_SPEED };
enum { GLANZ_SHOAL_BACKGROUND, GLANZ_SHOAL_COUNT, GLANZ_SHOAL_SPREAD, GLANZ_SHOAL_SPEED };
enum { GLANZ_SNOWFALL_COLOR, GLANZ_SNOWFALL_BACKGROUND, GLANZ_SNOWFALL_FLAKES, GLANZ_SNOWFALL_LIES, GLANZ_SNOWFALL_SPEED };
enum { GLANZ_STARS_BACKGROUND, GLANZ_STARS_COUNT, GLANZ_STARS_STREAK, GLANZ_STARS_SPEED };
enum { GLANZ_SURF_BACKGROUND, GLANZ_SURF_REACH, GLANZ_SURF_FOAM, GLANZ_SURF_SPEED };
enum { GLANZ_WAKE_COLOR, GLANZ_WAKE_SIZE, GLANZ_WAKE_LENGTH, GLANZ_WAKE_WAVE, GLANZ_WAKE_SPEED };
enum { GLANZ_WAVES_BACKGROUND, GLANZ_WAVES_DEPTH, GLANZ_WAVES_HEIGHT, GLANZ_WAVES_LENGTH, GLANZ_WAVES_SPEED };
enum { GLANZ_WEED_BACKGROUND, GLANZ_WEED_GAP, GLANZ_WEED_WIDTH, GLANZ_WEED_SWAY, GLANZ_WEED_SPEED };
enum {
    GLANZ_CLOCK_FACE_HOUR,
    GLANZ_CLOCK_FACE_MINUTE,
    GLANZ_CLOCK_FACE_SECOND,
    GLANZ_CLOCK_FACE_MARKS,
    GLANZ_CLOCK_FACE_SWEEP,
    GLANZ_CLOCK_FACE_CLEAR
};
enum { GLANZ_GAUGE_BACKGROUND, GLANZ_GAUGE_MARK, GLANZ_GAUGE_VALUE, GLANZ_GAUGE_MARKS, GLANZ_GAUGE_FORM, GLANZ_GAUGE_FROM };
enum { GLANZ_LANTERNS_BACKGROUND, GLANZ_LANTERNS_COUNT, GLANZ_LANTERNS_SIZE, GLANZ_LANTERNS_SWING, GLANZ_LANTERNS_SPEED };
enum {
    GLANZ_SEA_MARK_COLOR,
    GLANZ_SEA_MARK_BACKGROUND,
    GLANZ_SEA_MARK_CHARACTER,
    GLANZ_SEA_MARK_GROUP,
    GLANZ_SEA_MARK_LETTER,
    GLANZ_SEA_MARK_SOFT,
    GLANZ_SEA_MARK_SPEED
};
enum {
    GLANZ_SEA_SPARKLE_BACKGROUND,
    GLANZ_SEA_SPARKLE_STIRRED,
    GLANZ_SEA_SPARKLE_AT,
    GLANZ_SEA_SPARKLE_REACH,
    GLANZ_SEA_SPARKLE_SPEED
};
enum { GLANZ_FIRE_HEAT, GLANZ_FIRE_DETAIL, GLANZ_FIRE_SPEED };
enum { GLANZ_RAIN_BACKGROUND, GLANZ_RAIN_PART, GLANZ_RAIN_LENGTH, GLANZ_RAIN_SPEED };
enum { GLANZ_RIPPLES_BACKGROUND, GLANZ_RIPPLES_LENGTH, GLANZ_RIPPLES_DROPS, GLANZ_RIPPLES_AT, GLANZ_RIPPLES_SPEED };
enum { GLANZ_PLASMA_SIZE, GLANZ_PLASMA_SPEED };
enum { GLANZ_CLOUDS_SIZE, GLANZ_CLOUDS_DRIFT, GLANZ_CLOUDS_SPEED, GLANZ_CLOUDS_WIND };
enum { GLANZ_SPOKES_COUNT, GLANZ_SPOKES_TWIST, GLANZ_SPOKES_SPEED };
enum { GLANZ_COLONY_BACKGROUND, GLANZ_COLONY_FILL, GLANZ_COLONY_SPEED };
enum { GLANZ_FIREWORKS_BACKGROUND, GLANZ_FIREWORKS_SHELLS, GLANZ_FIREWORKS_SPARKS, GLANZ_FIREWORKS_SPEED };
enum {
    GLANZ_TEXT_COLOR,
    GLANZ_TEXT_BACKGROUND,
    GLANZ_TEXT_CLEAR,
    GLANZ_TEXT_COLORED,
    GLANZ_TEXT_WAY,
    GLANZ_TEXT_AGAIN,
    GLANZ_TEXT_LEVEL,
    GLANZ_TEXT_SPEED
};
enum {
    GLANZ_PICTURE_ACROSS,
    GLANZ_PICTURE_LEVEL,
    GLANZ_PICTURE_TILED,
    GLANZ_PICTURE_TURNED,
    GLANZ_PICTURE_WAY,
    GLANZ_PICTURE_SPEED
};
enum { GLANZ_MARKED_BACKGROUND, GLANZ_MARKED_CLEAR };
enum { GLANZ_FOUNTAIN_BACKGROUND, GLANZ_FOUNTAIN_DROPS, GLANZ_FOUNTAIN_HEIGHT, GLANZ_FOUNTAIN_FIRES, GLANZ_FOUNTAIN_SPEED };
enum { GLANZ_MARBLES_BACKGROUND, GLANZ_MARBLES_COUNT, GLANZ_MARBLES_SIZE, GLANZ_MARBLES_SPRING, GLANZ_MARBLES_SPEED };
enum { GLANZ_TIDEMARK_BACKGROUND, GLANZ_TIDEMARK_LEVEL, GLANZ_TIDEMARK_SPEED };
#if GLANZ_DRIVES_MOST > 0
enum {
    GLANZ_COLUMNS_BACKGROUND,
    GLANZ_COLUMNS_HEARS,
    GLANZ_COLUMNS_FROM,
    GLANZ_COLUMNS_COLORED,
    GLANZ_COLUMNS_PEAKS,
    GLANZ_COLUMNS_SPEED
};
enum {
    GLANZ_LOUDNESS_BACKGROUND,
    GLANZ_LOUDNESS_HEARS,
    GLANZ_LOUDNESS_FROM,
    GLANZ_LOUDNESS_MARKS,
    GLANZ_LOUDNESS_PEAKS,
    GLANZ_LOUDNESS_SPEED
};
enum { GLANZ_SONOGRAM_BACKGROUND, GLANZ_SONOGRAM_HEARS, GLANZ_SONOGRAM_SPEED };
enum { GLANZ_WAVEFORM_COLOR, GLANZ_WAVEFORM_BELOW, GLANZ_WAVEFORM_BACKGROUND, GLANZ_WAVEFORM_HEARS };
enum { GLANZ_THROB_COLOR, GLANZ_THROB_BACKGROUND, GLANZ_THROB_AT, GLANZ_THROB_SPEED };
enum { GLANZ_SPARKS_BACKGROUND, GLANZ_SPARKS_PART, GLANZ_SPARKS_AT, GLANZ_SPARKS_SPEED };
enum { GLANZ_HOPPERS_BACKGROUND, GLANZ_HOPPERS_COUNT, GLANZ_HOPPERS_AT, GLANZ_HOPPERS_SPEED };
#endif
#endif

/* ---- tools for effects ---- */

/** @cond shorthand for the parameter tables of the catalogue; lengths and rates are bounded alike everywhere */
#define GLANZ_PARAM_ROW(name, description, kind, unit, low, high, standard)                                                    \
    { GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), kind, unit, GLANZ_CHANGE_GLIDES, low, high, standard, NULL }
#define GLANZ_COLOR_ROW(name, description, standard)                                                                           \
    GLANZ_PARAM_ROW(name, description, GLANZ_PARAM_COLOR, GLANZ_UNIT_NONE, 0, INT32_MAX, (int32_t)(standard))
#define GLANZ_SHARE_ROW(name, description, standard)                                                                           \
    GLANZ_PARAM_ROW(name, description, GLANZ_PARAM_SHARE, GLANZ_UNIT_NONE, 0, 65536, standard)
#define GLANZ_LENGTH_ROW(name, description, low, unit, standard)                                                               \
    GLANZ_PARAM_ROW(name, description, GLANZ_PARAM_LENGTH, unit, low, GLANZ_FIXED(30000), standard)
#define GLANZ_PITCH_ROW(name, description, low, unit, standard)                                                                \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_LENGTH, unit, GLANZ_CHANGE_CROSSFADES, low,              \
            GLANZ_FIXED(30000), standard, NULL                                                                                 \
    }
#define GLANZ_FADED_SHARE_ROW(name, description, standard)                                                                     \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_SHARE, GLANZ_UNIT_NONE, GLANZ_CHANGE_CROSSFADES, 0,      \
            65536, standard, NULL                                                                                              \
    }
#define GLANZ_RATE_ROW(description, unit, standard)                                                                            \
    GLANZ_PARAM_ROW("speed", description, GLANZ_PARAM_RATE, unit, 0, GLANZ_FIXED(10000), standard)
/** For effects that look the other way when they run backwards. */
#define GLANZ_HEADED_RATE_ROW(description, unit, standard)                                                                     \
    {                                                                                                                          \
        GLANZ_TEXT("speed"), GLANZ_DESCRIPTION(description), GLANZ_PARAM_RATE, unit, GLANZ_CHANGE_CROSSFADES, 0,               \
            GLANZ_FIXED(10000), standard, NULL                                                                                 \
    }
/** For a place or a size that a drive may move. */
#define GLANZ_TURN_ROW(name, description, standard)                                                                            \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_TURN, GLANZ_UNIT_NONE, GLANZ_CHANGE_FOLLOWS, 0, 65535,   \
            standard, NULL                                                                                                     \
    }
#define GLANZ_SIZE_ROW(name, description, low, unit, standard)                                                                 \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_LENGTH, unit, GLANZ_CHANGE_FOLLOWS, low,                 \
            GLANZ_FIXED(30000), standard, NULL                                                                                 \
    }
#define GLANZ_PART_ROW(name, description, standard)                                                                            \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_SHARE, GLANZ_UNIT_NONE, GLANZ_CHANGE_FOLLOWS, 0, 65536,  \
            standard, NULL                                                                                                     \
    }
/** What the effect reacts to; for GLANZ_NEEDS_PULSES. */
#define GLANZ_SIGNAL_ROW(name, description)                                                                                    \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_SIGNAL, GLANZ_UNIT_NONE, GLANZ_CHANGE_CROSSFADES, 0,     \
            255, 0, NULL                                                                                                       \
    }
#define GLANZ_FLAG_ROW(name, description, standard)                                                                            \
    GLANZ_PARAM_ROW(name, description, GLANZ_PARAM_FLAG, GLANZ_UNIT_NONE, 0, 1, standard)
#define GLANZ_CHOICE_ROW(name, description, list, standard)                                                                    \
    {                                                                                                                          \
        GLANZ_TEXT(name), GLANZ_DESCRIPTION(description), GLANZ_PARAM_CHOICE, GLANZ_UNIT_NONE, GLANZ_CHANGE_CROSSFADES, 0,     \
            (int32_t)(sizeof list / sizeof list[0]) - 1, standard, list                                                        \
    }
/** @endcond */
#if GLANZ_FIELDS && GLANZ_DRIVES_MOST > 0
extern GLANZ_CONST struct glanz_gradient glanz_gradient_heard; /**< of looks on sound that name no palette */
/** What the microphone hears that a parameter of kind GLANZ_PARAM_SIGNAL names, or where it names none, the first of the rig;
 *  NULL where there is none, or it has heard nothing yet. For effects with GLANZ_NEEDS_SOUND, in step. */
const struct glanz_heard *glanz_frame_heard(const struct glanz_frame *frame, uint8_t param);
#endif
#define GLANZ_COUNT(list) ((uint8_t)(sizeof(list) / sizeof((list)[0]))) /**< entries of an array */

#if GLANZ_GLIDES
/** An effect's member `anchor`, where there are glides. */
#define GLANZ_ANCHOR(function) .anchor = function,
/** The turn at which so many points of a pass are done as with another pass. */
uint32_t glanz_turn_kept(uint32_t turn, glanz_place before, glanz_place pass);
#else
#define GLANZ_ANCHOR(function)
#endif

/** A number for a place, the same for LEDs that stand in one: for draws of their own. Along a line `y` is GLANZ_HALF. */
static inline uint32_t glanz_place_hash(glanz_place x, glanz_place y) {
    return ((uint32_t)x >> 12) + glanz_mul32_low((uint32_t)(y - GLANZ_HALF) >> 12, 0x9E3779B1u);
}

/** A period that goes round a closed segment a whole number of times: the nearest to the one that is wanted, but not below
 *  `least`. On an open one as it is. 16.16 points. */
glanz_place glanz_period_fit(const struct glanz_frame *frame, glanz_place period, glanz_place least);

#if GLANZ_FIELDS
/** For simulations: how many fixed ticks have gone by since the last step, by the phase, so that it runs alike at any frame
 * rate and as fast as its rate says; also when that changes, or is driven. Backwards they count too.
 *  @param last the tick it had come to, kept in the effect's memory, 0 at first. @param part filled: how much of the next tick
 *  has gone by, 0 to 65535. @param bits a pass has 2^bits ticks, 1 to 16. @return at most 64: after a longer pause what is
 *  beyond is left out. */
uint8_t glanz_frame_ticks(uint32_t *last, uint32_t *part, const struct glanz_frame *frame, uint8_t bits);
#endif

/** How much of the LED at a place lies between two points of the line: 0 to 65536. @param from not above `to`. */
static inline uint32_t glanz_cover(glanz_place place, glanz_place from, glanz_place to) {
    glanz_place low = place - GLANZ_HALF > from ? place - GLANZ_HALF : from;
    glanz_place high = place + GLANZ_HALF < to ? place + GLANZ_HALF : to;
    return high > low ? (uint32_t)(high - low) : 0;
}

/** A part of the line in one colour, before another: where two intervals of places cover it, mixed at their edges by how much
 *  of a LED they cover. @param ends start and end of the two; start and end alike for none. */
void glanz_cover_run(struct glanz_light *light, struct glanz_light back, struct glanz_light front, const int32_t ends[4],
                     const glanz_place *places, uint8_t count);

/** Something that repeats along the line, every so many points. Places become 32-bit turns of it, wrap and all. */
struct glanz_repeat {
    uint32_t scale;   /**< turns of the period a point, 0.32 */
    uint32_t inverse; /**< of the period, to multiply with */
    uint8_t shift;    /**< of that product */
};

/** A period, ready to go through. @param period 16.16 points, at least one. */
struct glanz_repeat glanz_repeat_of(glanz_place period);

/** Where a place lies in the period: 0 to 2^32 - 1. */
static inline uint32_t glanz_repeat_turn(const struct glanz_repeat *repeat, glanz_place place) {
    uint32_t whole = (uint32_t)glanz_over(place, 16); /* below 0 it comes out right in the product */
    uint32_t part = (uint32_t)place & 0xFFFFu;
    return whole * repeat->scale + part * (repeat->scale >> 16) + ((part * (repeat->scale & 0xFFFFu)) >> 16);
}

/** The places of a run one after another, which most often are one LED apart: then each is a sum. */
struct glanz_repeat_walk {
    uint32_t turn, step;   /**< which period it is in; from place to place */
    glanz_place place, on; /**< within the period; how much further it goes */
};

/** Begin at the first of a run's places. @param offset turns taken from each. @param count at least 1. */
static inline struct glanz_repeat_walk glanz_repeat_begin(const struct glanz_repeat *repeat, uint32_t offset,
                                                          const glanz_place *places, uint8_t count) {
    struct glanz_repeat_walk walk;
#ifdef __AVR__ /* flash is scarcer there than the time of runs against the line */
    const uint8_t back = 0;
    (void)count;
#else
    uint8_t back = count > 1 && places[1] < places[0];
#endif
    walk.turn = glanz_repeat_turn(repeat, places[0]) - offset;
    walk.step = back ? 0u - repeat->scale : repeat->scale;
    walk.place = places[0];
    walk.on = back ? -GLANZ_STEP : GLANZ_STEP;
    return walk;
}

/** The turn of the next place, less the offset. */
static inline uint32_t glanz_repeat_next(struct glanz_repeat_walk *walk, const struct glanz_repeat *repeat, uint32_t offset,
                                         glanz_place place) {
    uint32_t turn = place == walk->place ? walk->turn : glanz_repeat_turn(repeat, place) - offset;
    walk->turn = turn + walk->step;
    walk->place = place + walk->on;
    return turn;
}

/** How much of an LED lies in the first `width` of each period. @param high turn of the LED's upper edge.
 *  @param width 0.32 turns. @return 0 to 65536. */
static inline uint32_t glanz_repeat_cover(const struct glanz_repeat *repeat, uint32_t high, uint32_t width) {
    uint32_t low = high - repeat->scale;
    uint32_t over = (high < width ? high : width) - (low < width ? low : width);
    if (low > high) {
        over += width; /* the LED lies over the seam */
    }
    uint32_t cover = ((over >> repeat->shift) * repeat->inverse) >> 15;
    return cover > 65536u ? 65536u : cover;
}

GLANZ_HEADER_END
#endif
