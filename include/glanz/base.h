/* SPDX-License-Identifier: MIT */
/** @file
 *  Base: status codes, fixed point, sine, exponential, random, checksum. Everything here is pure and may be called from
 *  any context, interrupts too.
 *
 *  The law of arguments, everywhere in Glanz: context first, then out, in/out, in; a length follows its pointer; a
 *  callback comes last but for its `user`. Functions return a status; results go through out-parameters. Functions that
 *  cannot fail return their value.
 */
#ifndef GLANZ_BASE_H
#define GLANZ_BASE_H

#include <stddef.h>
#include <stdint.h>

#include <glanz/config.h>

GLANZ_HEADER_BEGIN

/** The version: major, minor, patch, as numbers and as text. Before 1.0 a minor version may break programs. */
#define GLANZ_VERSION_MAJOR 0
/** before 1.0: another may break programs */
#define GLANZ_VERSION_MINOR 1
/** mends alone */
#define GLANZ_VERSION_PATCH 0
/** the same as text */
#define GLANZ_VERSION "0.1.0"
/** The version as one number, to compare with: 0xMMmmpp. */
#define GLANZ_VERSION_NUMBER ((uint32_t)GLANZ_VERSION_MAJOR << 16 | GLANZ_VERSION_MINOR << 8 | GLANZ_VERSION_PATCH)

#if defined(__GNUC__) || defined(__clang__)
#define GLANZ_NODISCARD __attribute__((warn_unused_result))
#else
/** A status that must be looked at: compilers that can warn where it is not. */
#define GLANZ_NODISCARD
#endif

/** A condition that the compiler checks, with what was expected. */
#ifdef __cplusplus
#define GLANZ_ASSERT(condition, text) static_assert(condition, text)
#else
#define GLANZ_ASSERT(condition, text) _Static_assert(condition, text)
#endif

/** What memory must be aligned to: as a pointer is. On 8-bit CPUs every address will do. */
#ifdef __AVR__
#define GLANZ_ALIGNMENT 1u
#else
#define GLANZ_ALIGNMENT sizeof(void *)
#endif
/** Bytes by which an address lies beside an aligned one; 0: it is aligned. */
#define GLANZ_MISALIGNED(memory) ((uintptr_t)(memory) & (GLANZ_ALIGNMENT - 1u))

/** Statuses. Numbers are pinned: new ones are only appended. */
typedef enum glanz_status {
    GLANZ_OK = 0,
    GLANZ_ERR_ARGUMENT = -1, /**< a pointer is NULL or a number out of its documented range */
    GLANZ_ERR_MEMORY = -2,   /**< the memory given is too small; the number needed is reported */
    GLANZ_ERR_RIG = -3,      /**< the rig cannot be; the detail names what */
    GLANZ_ERR_SHOW = -4,     /**< the show cannot be; the detail names what */
    GLANZ_ERR_TEXT = -5,     /**< a document is not well-formed or does not say what it must */
    GLANZ_ERR_BUSY = -6,     /**< outputs are still sending, or the thing is still in use: try again later */
    GLANZ_ERR_PORT = -7,     /**< a function of the port failed */
    GLANZ_ERR_FULL = -8,     /**< no room left: a ring, a list or the store is full */
    GLANZ_ERR_ABSENT = -9,   /**< nothing of that name or number */
    GLANZ_ERR_DAMAGED = -10, /**< stored bytes do not check */
    GLANZ_ERR_STATE = -11,   /**< called at the wrong time: not started, or from inside a callback */
    GLANZ_ERR_NEWER = -12    /**< stored by a newer version, in a format not known here: left alone */
} glanz_status;

/** The version of the library that was linked, as GLANZ_VERSION_NUMBER. */
uint32_t glanz_version(void);

/** The name of a status, such as "GLANZ_ERR_MEMORY"; "unknown status" for a number that is none. */
const char *glanz_status_name(glanz_status status);

/** The first of two statuses that is a failure; GLANZ_OK when neither is. */
static inline glanz_status glanz_status_first(glanz_status first, glanz_status second) {
    return first != GLANZ_OK ? first : second;
}

/** What went wrong, beside the status: filled on failure, left alone on success. Begin with GLANZ_FAULT_INIT. */
struct glanz_fault {
    char text[192];  /**< one line: what is wrong and what was expected; ends with NUL */
    char where[128]; /**< JSON pointer (RFC 6901) of the place in a rig or show, built from C or from a text */
    size_t needed;   /**< bytes needed, with GLANZ_ERR_MEMORY; else 0 */
    uint32_t line;   /**< line in the text, from 1; 0 when no text was read */
    uint32_t column; /**< column in bytes, from 1 */
};
/** A fault that says nothing yet. */
#define GLANZ_FAULT_INIT                                                                                                       \
    { {0}, {0}, 0, 0, 0 }

/** Build a fault piece by piece, cut to fit: begin, then text, quoted names and numbers, and the pointer's steps. A NULL
 *  fault, and NULL text, are allowed everywhere. For checks of rigs and shows; returns nothing that can fail. */
void glanz_fault_begin(struct glanz_fault *fault);
/** Add text; what is no letter becomes a question mark. */
void glanz_fault_add(struct glanz_fault *fault, GLANZ_CONST char *text);
/** Add a name in quotation marks. */
void glanz_fault_name(struct glanz_fault *fault, GLANZ_CONST char *name);
/** Add a number. */
void glanz_fault_number(struct glanz_fault *fault, uint32_t number);
/** Add a key to the pointer, escaped as RFC 6901 says. @param key of an object. */
void glanz_fault_at(struct glanz_fault *fault, GLANZ_CONST char *key);
/** Add a place in a list to the pointer. @param index from 0. */
void glanz_fault_at_index(struct glanz_fault *fault, uint32_t index);
/** "too little memory for WHAT: N bytes needed, M given"; @return GLANZ_ERR_MEMORY. */
glanz_status glanz_fault_memory(struct glanz_fault *fault, GLANZ_CONST char *what, size_t needed, size_t given);

/** A time since the start, microseconds: see GLANZ_LONG_TIME. */
#if GLANZ_LONG_TIME
typedef uint64_t glanz_us;
#define GLANZ_TIME_FAR ((glanz_us)1 << 60) /**< the longest span a time may lie ahead */
#else
typedef uint32_t glanz_us;
#define GLANZ_TIME_FAR ((glanz_us)0x7FFFFFFF)
#endif
/** Does a come before b? Right also where 32-bit times wrap, for times that are no further apart than GLANZ_TIME_FAR. */
static inline int glanz_us_before(glanz_us a, glanz_us b) {
    return (glanz_us)(a - b) > GLANZ_TIME_FAR;
}

/** A place along a segment: 16.16 fixed point, in steps of LEDs (of grains, where grain is above 1). LED i stands at
 *  i + 1/2 and covers i to i + 1. */
typedef int32_t glanz_place;
#define GLANZ_STEP ((glanz_place)65536) /**< one LED */
#define GLANZ_HALF ((glanz_place)32768) /**< half an LED */

/** High half of a product of two 16-bit fractions. */
static inline uint16_t glanz_mul16(uint16_t a, uint16_t b) {
    return (uint16_t)(((uint32_t)a * b) >> 16);
}

/** Scale a level by a gain of 0 to 65536 (= 1.0). Exact at 0 and at 65536. */
static inline uint16_t glanz_gain16(uint16_t a, uint32_t gain) {
#ifdef __AVR__ /* the same with a 16-bit product */
    return gain > 65535u ? a : (uint16_t)(((uint32_t)a * (uint16_t)gain) >> 16);
#else
    return (uint16_t)((a * gain) >> 16);
#endif
}

/** Mix two levels: a where f is 0, b where f is 65536; exact where a equals b; never outside the two. The one mixing
 *  primitive of Glanz: a + floor((b - a) * f / 65536), with 15 bits of the fraction so that one 32-bit product does it.
 *  @param f 0 to 65536. */
#ifdef __AVR__ /* a call, with 16-bit products */
uint16_t glanz_mix16(uint16_t a, uint16_t b, uint32_t f);
#else
static inline uint16_t glanz_mix16(uint16_t a, uint16_t b, uint32_t f) {
    return (uint16_t)(a + ((((uint32_t)b - a) * (f >> 1) + 0x80000000u) >> 15)); /* 2^31 becomes 2^16, and is dropped */
}
#endif

/** Scale a level by a gain of 0 to 65535 (/65536), rounded to the nearest: (a * gain + 32768) / 65536. */
static inline uint16_t glanz_gain16_round(uint16_t a, uint16_t gain) {
#ifdef __AVR__ /* the same; avr-gcc has no instruction-level form of it */
    uint16_t high;
    uint8_t byte;
    __asm__("mul %A2, %A3\n mov %1, r1\n"
            "mul %B2, %B3\n movw %0, r0\n"
            "mul %B2, %A3\n add %1, r0\n adc %A0, r1\n clr r0\n adc %B0, r0\n"
            "mul %A2, %B3\n add %1, r0\n adc %A0, r1\n clr r1\n adc %B0, r1\n"
            "lsl %1\n adc %A0, r1\n adc %B0, r1"
            : "=&r"(high), "=&r"(byte)
            : "r"(a), "r"(gain)
            : "r0");
    return high;
#else
    return (uint16_t)(((uint32_t)a * gain + 32768u) >> 16);
#endif
}

/** Product of two 32-bit numbers, upper half. A call on CPUs without products of 64 bits, where it is long. */
#if defined(__AVR__) || (defined(__thumb__) && !defined(__thumb2__))
#define GLANZ_MUL32_CALL
uint32_t glanz_mul32_high(uint32_t a, uint32_t b);
#else
static inline uint32_t glanz_mul32_high(uint32_t a, uint32_t b) {
    return (uint32_t)(((uint64_t)a * b) >> 32);
}
#endif

/** Product of two 32-bit numbers, lower half: for constants of many bits, in place of which compilers for Cortex-M0+ would put
 * some twenty shifts and sums. */
static inline uint32_t glanz_mul32_low(uint32_t a, uint32_t b) {
#if defined(__GNUC__) && defined(__thumb__) && !defined(__thumb2__)
    __asm__("" : "+r"(b)); /* no instruction; the number may be any from here on */
#endif
    return a * b;
}

/** Product of two shares, each 0 to 65536. Exact at 0 and at 65536. */
static inline uint32_t glanz_share_of(uint32_t a, uint32_t b) {
    return a > 65535u ? b : b > 65535u ? a : (a * b) >> 16;
}

/** A number times a 16.16 factor, at most 2^32 - 1. */
uint32_t glanz_times(uint32_t number, uint32_t factor);

/** The same where it is known to be below 2^32. */
static inline uint32_t glanz_times_here(uint32_t number, uint32_t factor) {
    uint32_t part = number & 0xFFFFu;
    return (number >> 16) * factor + part * (factor >> 16) + ((part * (factor & 0xFFFFu)) >> 16);
}

/** Sum of two numbers, at most 2^32 - 1. */
static inline uint32_t glanz_plus(uint32_t a, uint32_t b) {
    return a + b < a ? 0xFFFFFFFFu : a + b;
}

/** Does a pointer lie in a block of memory? 0 for NULL. */
static inline int glanz_inside(GLANZ_CONST void *pointer, const void *memory, size_t size) {
    return pointer != NULL && (uintptr_t)pointer >= (uintptr_t)memory && (uintptr_t)pointer - (uintptr_t)memory < size;
}

/** Does a list of `count` things of `bytes` each lie in `size` bytes of memory, if only in part? NULL and empty ones do not. */
static inline int glanz_overlaps(GLANZ_CONST void *list, size_t count, size_t bytes, const void *memory, size_t size) {
    uintptr_t first = (uintptr_t)list;
    uintptr_t begin = (uintptr_t)memory;
    return list != NULL && count != 0 && first < begin + size && begin < first + count * bytes;
}

/** num/den as a binary fraction: 2^32 num/den, rounded down. @param num below `den`. */
uint32_t glanz_fraction(uint32_t num, uint32_t den);

/** Ratio num/den of two numbers, 0 to 65536, rounded down; 65536 where num >= den (also for den = 0). */
uint32_t glanz_ratio(uint32_t num, uint32_t den);

/** Sine. @param turn 65536 is one full turn; whole ones are of no account. @return -32767 to 32767; error at most 6/32767. */
int glanz_sine(unsigned turn);

/** Square root, rounded down. */
uint16_t glanz_root(uint32_t number);

/** Logarithm to the base 2, 16.16; within 12/65536. 0 for 0 and for 1. */
uint32_t glanz_log2(uint32_t number);

/** A number over 2^bits, rounded down, also below 0. One instruction where shifts of what is below 0 are as they most often
 * are. */
static inline int32_t glanz_over(int32_t number, uint8_t bits) {
    return number < 0 ? ~(~number >> bits) : number >> bits;
}

/** Length of a way across and down, in its own unit; within 3 of 2^14 parts, or of the unit. */
uint32_t glanz_distance(int32_t across, int32_t down);

/** Bearing of a way across and down: 0 for up, clockwise, 65536 a turn; within 4/65536 of a turn. 0 for no way at all. */
uint16_t glanz_bearing(int32_t across, int32_t down);

/** For glanz_row_length(), of two places and more, the first two of which lie in one row. */
uint8_t glanz_row_even(int32_t *leds, const glanz_place *x, const glanz_place *y, uint8_t count);

/** How many of some places lie in one row from the first on, each as many whole LEDs on as the one before: along them, what an
 *  effect works out for a row stays, and what depends on x grows evenly. @param leds filled: from each to the next, 1 as a
 * rule, or -1; any of one place alone. @param count 1 and up. @return 1 to count. */
static inline uint8_t glanz_row_length(int32_t *leds, const glanz_place *x, const glanz_place *y, uint8_t count) {
    *leds = 0;
    return count < 2 || y[1] != y[0] ? 1 : glanz_row_even(leds, x, y, count);
}

/** Smooth noise in the plane that moves by itself: every corner of a lattice goes up and down in a phase of its own, and
 *  what lies between is mixed smoothly. Begin with glanz_noise_begin(); then row by row: glanz_noise_row(), and
 *  glanz_noise_along() for places of it. Neighbours are cheap: within a cell, and from one to the next. */
struct glanz_noise {
    uint32_t seed;     /**< of its pattern */
    uint32_t cell_x;   /**< the cell it is in, 0 to 65535; or GLANZ_NOISE_NOWHERE */
    uint32_t from, to; /**< on the row: its left and its right edge, 15 bits up */
    uint32_t way;      /**< from the one to the other */
    uint32_t cell_y;   /**< the row's cell, 0 to 65535; or GLANZ_NOISE_NOWHERE */
    uint32_t rows[2];  /**< what the corners of that cell are told apart by, upper and lower */
    uint32_t turn;     /**< of the swing, in the upper 16 bits: after a full one the noise is the same again */
    uint16_t left[2];  /**< the cell's corners at the left, upper and lower */
    uint16_t right[2]; /**< those at the right */
    uint16_t mask;     /**< of a cell's number; 0 where it repeats after what is no power of two */
    uint16_t period_x; /**< cells after which it repeats across, or 0 */
    uint16_t down;     /**< how far the row is between the corners, eased; 32768 would be the lower ones */
};
#define GLANZ_NOISE_NOWHERE 0x80000000u /**< in place of a cell: none is entered yet */

/** Begin a noise. @param turn of the swing, 65536 a full one. @param period_x cells after which it repeats across, at most
 *  32768, or 0; powers of two are cheap. */
static inline void glanz_noise_begin(struct glanz_noise *noise, uint32_t seed, uint16_t turn, uint16_t period_x) {
    uint8_t by_mask = (period_x & (period_x - 1u)) == 0; /* a power of two, or no period at all */
    noise->seed = seed;
    noise->cell_x = GLANZ_NOISE_NOWHERE;
    noise->cell_y = GLANZ_NOISE_NOWHERE;
    noise->turn = (uint32_t)turn << 16;
    noise->mask = (uint16_t)(by_mask ? period_x - 1u : 0);
    noise->period_x = period_x;
}

/** Go to a row. @param y 16.16 cells. */
void glanz_noise_row(struct glanz_noise *noise, int32_t y);
/** The corners of another cell of the row; for glanz_noise_along(). @param cell_x 0 to 65535. */
void glanz_noise_enter(struct glanz_noise *noise, uint32_t cell_x);

/** 3f^2 - 2f^3, for 16 bits. */
static inline uint16_t glanz_ease16(uint16_t f) {
    uint32_t square = ((uint32_t)f * f) >> 16;
    return (uint16_t)((square * (196608u - 2u * (uint32_t)f)) >> 16);
}

/** The noise at a place of the row. @param x 16.16 cells. @return 0 to 65535; the middle is 32768. */
static inline uint32_t glanz_noise_along(struct glanz_noise *noise, int32_t x) {
    uint32_t cell_x = (uint32_t)x >> 16;
    if (cell_x != noise->cell_x) {
        glanz_noise_enter(noise, cell_x);
    }
    uint32_t f = (uint16_t)x;
    uint32_t eased = ((f * f >> 16) * (98304u - f)) >> 16; /* half of glanz_ease16() */
    return (noise->from + noise->way * eased) >> 15;
}

/** 2 to the power -u. @param u 16.16, 0 and up. @return 65536 at u = 0, falling to 0; error at most 5/65536. */
uint32_t glanz_halving(uint32_t u);

#define GLANZ_APPROACH_FINE ((uint32_t)32768) /**< one 65536th, in the numbers of glanz_approach() */

/** What passes of a way in some time. Worked out by glanz_approach(), and kept for the next that asks for the same; all 0 at
 * the start. 2^-32ths of the way that is left. */
struct glanz_decay {
    uint32_t elapsed_us; /**< of the last step */
    uint32_t gone, mean; /**< at its end; on the mean over it */
    uint16_t half_ms;    /**< of the last step */
};

/** A number that goes to another by half-lives: after each, half of the rest of the way is done. Split anywhere, the time comes
 *  to the same. @param mean filled: over the time that passes. @param from,to 0 to 65536, each times GLANZ_APPROACH_FINE.
 *  @param half_ms 0: at once. @param turns 1: an angle below 65536, which goes the shorter way. @return the number then; `to`
 *  when it is less than half of a 65536th away. */
uint32_t glanz_approach(uint32_t *mean, struct glanz_decay *decay, uint32_t from, uint32_t to, uint32_t elapsed_us,
                        uint16_t half_ms, int turns);
/** Does it go up there? */
int glanz_approach_rises(uint32_t from, uint32_t to, int turns);

/** Hash of a number: every input bit moves every output bit. The source of all randomness in effects. */
uint32_t glanz_hash(uint32_t number);

/** The same, not as a call: for loops that ask for many. A bijection of 32 bits: xor-shifts and odd multipliers. */
static inline uint32_t glanz_hash_here(uint32_t number) {
    number ^= number >> 16;
    number = glanz_mul32_low(number, 0x7FEB352Du);
    number ^= number >> 15;
    number = glanz_mul32_low(number, 0x846CA68Bu);
    number ^= number >> 16;
    return number;
}

/** glanz_hash2() of a number whose own hash is known: for many that begin with the same. @param hashed the first's hash. */
static inline uint32_t glanz_hash_on(uint32_t hashed, uint32_t b) {
    return glanz_hash(hashed ^ (glanz_mul32_low(b, 0x9E3779B9u) + 0x7F4A7C15u));
}

/** Hash of two numbers, such as a place and a lap. */
static inline uint32_t glanz_hash2(uint32_t a, uint32_t b) {
    return glanz_hash_on(glanz_hash(a), b);
}

/** Hash of a text, byte after byte. 0 for NULL and for no text. */
uint32_t glanz_text_hash(GLANZ_CONST char *text);

/** A day of the Gregorian calendar. */
struct glanz_date {
    uint16_t year;      /**< such as 2026 */
    uint8_t month, day; /**< from 1 */
    uint8_t weekday;    /**< 0 Monday to 6 Sunday */
};
/** The date of a day. @param day days since 1 January 1970. */
struct glanz_date glanz_date_of(uint32_t day);
/** Days since 1 January 1970. @param year 1970 to 2105. @param month,day from 1; a day that the month has not runs on into the
 *  next. */
uint32_t glanz_day_of(uint16_t year, uint8_t month, uint8_t day);

/** CRC-32 (ISO 3309, ITU-T V.42). @param crc 0 to begin, or what an earlier part gave. */
uint32_t glanz_crc32(uint32_t crc, const void *bytes, size_t count);

/** Is a text free of controls, those of the terminal and those that turn the way of writing (Unicode's bidirectional ones)?
 * NULL is not. */
int glanz_text_plain(GLANZ_CONST char *text);

/** Equal text? For texts that both may lie in flash. */
int glanz_name_equal(GLANZ_CONST char *a, GLANZ_CONST char *b);

/** Equal text? Either may be NULL; two NULLs are equal. */
int glanz_text_equal(GLANZ_CONST char *a, const char *b);

GLANZ_HEADER_END
#endif
