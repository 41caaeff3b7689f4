/* SPDX-License-Identifier: MIT */
/** @file
 *  Compile-time configuration. GLANZ_USER_CONFIG, when defined, names a header that is read first; else <glanz_options.h> is,
 *  where the include path has one. Whatever it leaves open gets the defaults below. All options here change the layout of
 * structs: build the library and the program alike.
 */
#ifndef GLANZ_CONFIG_H
#define GLANZ_CONFIG_H

#ifdef GLANZ_USER_CONFIG
#include GLANZ_USER_CONFIG
#elif defined(__has_include)
#if __has_include(<glanz_options.h>)
#include <glanz_options.h>
#endif
#endif

/** LEDs shaded together; 8 to 64. Stack: 22 bytes each. Default 32, on 8-bit AVR 10. */
#ifndef GLANZ_RUN
#ifdef __AVR__
#define GLANZ_RUN 10
#else
#define GLANZ_RUN 32
#endif
#endif

/** Looks that may fade at once on one segment; 2 to 4. RAM: about 220 bytes each and segment. Default 3, on AVR 2. */
#ifndef GLANZ_FADES
#ifdef __AVR__
#define GLANZ_FADES 2
#else
#define GLANZ_FADES 3
#endif
#endif

/** Parameters an effect may have; 5 to 8. RAM: 9 bytes each and look. Effects with more are left out. Default 8, on AVR 5. */
#ifndef GLANZ_PARAMS
#ifdef __AVR__
#define GLANZ_PARAMS 5
#else
#define GLANZ_PARAMS 8
#endif
#endif

/** Outputs of a rig; 1 to 32. Stack: 12 bytes each. Up to 2 a rig has one supply of at most 8 A, and the limit reckons in 16
 *  bits; with 1 there is nothing to share it among, which saves 0.4 KB on AVR. Default 32, on AVR 1. */
#ifndef GLANZ_OUTPUTS_MOST
#ifdef __AVR__
#define GLANZ_OUTPUTS_MOST 1
#else
#define GLANZ_OUTPUTS_MOST 32
#endif
#endif

/** Segments of a show; 1 to 64. Stack: 2 bytes each. Default 64, on AVR 4. */
#ifndef GLANZ_SEGMENTS_MOST
#ifdef __AVR__
#define GLANZ_SEGMENTS_MOST 4
#else
#define GLANZ_SEGMENTS_MOST 64
#endif
#endif

/** Raw edges and values that one input keeps between two frames; a power of two, 4 to 128. RAM: 8 bytes each and input.
 *  Default 16, on AVR 4. */
#ifndef GLANZ_INBOX
#ifdef __AVR__
#define GLANZ_INBOX 4
#else
#define GLANZ_INBOX 16
#endif
#endif

/** Presets that can be saved while running; 0 to 64. RAM: 32 bytes each. 0 leaves the code out: 2.6 KB of flash on Cortex-M0+
 *  at -Os, as all figures of flash here. Default 16, on AVR 0. */
#ifndef GLANZ_SAVED_MOST
#ifdef __AVR__
#define GLANZ_SAVED_MOST 0
#else
#define GLANZ_SAVED_MOST 16
#endif
#endif

/** Seconds between two records of where playlists are, for shows that resume; 2 to 86400. What a hand changes is kept two
 *  seconds after it in any case. The flash's lifetime hangs on it: docs/store.md. Default 5. */
#ifndef GLANZ_RESUME_S
#define GLANZ_RESUME_S 5
#endif

/** 1: times are 64 bits of microseconds. 0: 32 bits, which wrap; then no item of a playlist holds longer than 35 minutes, and a
 *  frame must come at least that often. Flash: 1.8 KB. Default 1, on AVR 0. */
#ifndef GLANZ_LONG_TIME
#ifdef __AVR__
#define GLANZ_LONG_TIME 0
#else
#define GLANZ_LONG_TIME 1
#endif
#endif

/** 1: the same effect with other numbers and colours glides to them. 0: it crossfades. RAM: 90 bytes a segment. Flash: 0.7 KB.
 *  Default 1, on AVR 0. */
#ifndef GLANZ_GLIDES
#ifdef __AVR__
#define GLANZ_GLIDES 0
#else
#define GLANZ_GLIDES 1
#endif
#endif

/** Drives of looks that show at one moment, those that fade too; 0 to 64. RAM on 32-bit CPUs, where the part is named: 32
 *  bytes each; and for each look that a segment may show 32, and 3 for each of GLANZ_PARAMS. 0 leaves drives and signals of
 * shows out. Default 16, on AVR 0. */
#ifndef GLANZ_DRIVES_MOST
#ifdef __AVR__
#define GLANZ_DRIVES_MOST 0
#else
#define GLANZ_DRIVES_MOST 16
#endif
#endif

/** Signals of a show beside the rig's inputs: waves, the clock, combinations; 1 to 64. RAM: 12 bytes each. Default 16. */
#ifndef GLANZ_SIGNALS_MOST
#define GLANZ_SIGNALS_MOST 16
#endif

/** Triggers of a show that remember something: that wait for what stays, enters, leaves, is turned or is unchanged, act by
 *  turns, have a margin or a time in which they are not met again; 1 to 255. RAM: 32 bytes each, where the part for gestures is
 *  named. Default 16. */
#ifndef GLANZ_WATCHES_MOST
#define GLANZ_WATCHES_MOST 16
#endif
#if GLANZ_WATCHES_MOST < 1 || GLANZ_WATCHES_MOST > 255
#error "GLANZ_WATCHES_MOST must be 1 to 255"
#endif

#if GLANZ_DRIVES_MOST < 0 || GLANZ_DRIVES_MOST > 64 || GLANZ_SIGNALS_MOST < 1 || GLANZ_SIGNALS_MOST > 64
#error "GLANZ_DRIVES_MOST must be 0 to 64, GLANZ_SIGNALS_MOST 1 to 64"
#endif

#if GLANZ_SAVED_MOST < 0 || GLANZ_SAVED_MOST > 64
#error "GLANZ_SAVED_MOST must be 0 to 64"
#endif
#if GLANZ_RESUME_S < 2 || GLANZ_RESUME_S > 86400
#error "GLANZ_RESUME_S must be 2 to 86400"
#endif
#if GLANZ_RUN < 8 || GLANZ_RUN > 64
#error "GLANZ_RUN must be 8 to 64"
#endif
#if GLANZ_FADES < 2 || GLANZ_FADES > 4
#error "GLANZ_FADES must be 2 to 4"
#endif
#if GLANZ_OUTPUTS_MOST < 1 || GLANZ_OUTPUTS_MOST > 32 || GLANZ_SEGMENTS_MOST < 1 || GLANZ_SEGMENTS_MOST > 64
#error "GLANZ_OUTPUTS_MOST must be 1 to 32, GLANZ_SEGMENTS_MOST 1 to 64"
#endif
#if GLANZ_PARAMS < 5 || GLANZ_PARAMS > 8
#error "GLANZ_PARAMS must be 5 to 8"
#endif
#if GLANZ_INBOX < 4 || GLANZ_INBOX > 128 || (GLANZ_INBOX & (GLANZ_INBOX - 1)) != 0
#error "GLANZ_INBOX must be a power of two, 4 to 128"
#endif

/** Keeps a function out of its callers, where that saves registers. */
#if defined(__GNUC__) || defined(__clang__)
#define GLANZ_NOINLINE __attribute__((noinline))
#else
#define GLANZ_NOINLINE
#endif

/** A function that each use has its own copy of, with its constants worked in. */
#if defined(__GNUC__) || defined(__clang__)
#define GLANZ_INLINE static inline __attribute__((always_inline))
#else
#define GLANZ_INLINE static inline
#endif

/** Opens and closes what a public header declares: C linkage, and visible in a shared library that hides all else. */
#if defined(__GNUC__) && !defined(__AVR__) && !defined(__xtensa__)
#define GLANZ_VISIBLE_BEGIN _Pragma("GCC visibility push(default)")
#define GLANZ_VISIBLE_END _Pragma("GCC visibility pop")
#else
#define GLANZ_VISIBLE_BEGIN /**< what follows is visible in a shared library */
#define GLANZ_VISIBLE_END   /**< and what follows is not */
#endif
#ifdef __cplusplus
#define GLANZ_HEADER_BEGIN                                                                                                     \
    extern "C" {                                                                                                               \
    GLANZ_VISIBLE_BEGIN
#define GLANZ_HEADER_END                                                                                                       \
    GLANZ_VISIBLE_END                                                                                                          \
    }
#else
#define GLANZ_HEADER_BEGIN GLANZ_VISIBLE_BEGIN /**< opens what a header declares */
#define GLANZ_HEADER_END GLANZ_VISIBLE_END     /**< closes it */
#endif

/** Where constant tables and descriptors live: in flash on AVR (named address space of avr-gcc), anywhere else. C++ on AVR has
 *  no address spaces: there a program only hands on the addresses of what C files define. */
#if defined(__AVR__) && !defined(__cplusplus)
#define GLANZ_FLASH __flash
#else
#define GLANZ_FLASH
#endif
/** A constant that on AVR stays in flash; every table, effect, chip, rig and show is one. */
#define GLANZ_CONST const GLANZ_FLASH

/** Names and descriptions. On AVR they are left out (a NULL pointer): a show there is built from C and names nothing. */
#ifdef __AVR__
#define GLANZ_TEXT(text) NULL
#else
#define GLANZ_TEXT(text) text
#endif

/** 1: surfaces may be grids, rings of rings and free points, and effects may be asked for places in two dimensions and
 *  remember. 0: lines only. RAM: 110 bytes a segment. Stack: 18 bytes for each LED of GLANZ_RUN. Flash: 9.2 KB, before any
 * effect for fields. Default 1, on AVR 0. */
#ifndef GLANZ_FIELDS
#ifdef __AVR__
#define GLANZ_FIELDS 0
#else
#define GLANZ_FIELDS 1
#endif
#endif

/** 1: playlists nest, are shuffled, timed, paused, have gaps and followers, and several run at once; sleep; undo; aspects taken
 *  over by hand; what was showing comes back at power-on. 0: one plain playlist at a time. Default 1, on AVR 0. */
#ifndef GLANZ_SEQUENCES
#ifdef __AVR__
#define GLANZ_SEQUENCES 0
#else
#define GLANZ_SEQUENCES 1
#endif
#endif

/** Playlists that run at once; 1 to 16. RAM: 72 bytes each. Default 4; 1 without GLANZ_SEQUENCES. */
#if !GLANZ_SEQUENCES
#undef GLANZ_PLAYERS
#define GLANZ_PLAYERS 1
#elif !defined(GLANZ_PLAYERS)
#define GLANZ_PLAYERS 4
#endif

/** Playlists within each other; 1 to 4. Default 3; 1 without GLANZ_SEQUENCES. */
#if !GLANZ_SEQUENCES
#undef GLANZ_NESTING
#define GLANZ_NESTING 1
#elif !defined(GLANZ_NESTING)
#define GLANZ_NESTING 3
#endif

/** Changes of a segment by hand that can be undone; 0 to 64. RAM: 80 bytes each. Default 6; none without GLANZ_SEQUENCES. */
#if !GLANZ_SEQUENCES
#undef GLANZ_UNDO
#define GLANZ_UNDO 0
#elif !defined(GLANZ_UNDO)
#define GLANZ_UNDO 6
#endif

/** Changes of a segment for a time (actions with "for") that run at once; 1 to 32. RAM: 96 bytes each. Default 3; none without
 *  GLANZ_SEQUENCES. */
#if !GLANZ_SEQUENCES
#undef GLANZ_PASSING
#define GLANZ_PASSING 0
#elif !defined(GLANZ_PASSING)
#define GLANZ_PASSING 3
#endif
#if GLANZ_SEQUENCES && (GLANZ_PASSING < 1 || GLANZ_PASSING > 32)
#error "GLANZ_PASSING must be 1 to 32"
#endif

/** Entries of a show's calendar; 1 to 64. RAM: 20 bytes each. Default 16. */
#ifndef GLANZ_ENTRIES_MOST
#define GLANZ_ENTRIES_MOST 16
#endif
#if GLANZ_PLAYERS < 1 || GLANZ_PLAYERS > 16 || GLANZ_NESTING < 1 || GLANZ_NESTING > 4 || GLANZ_UNDO < 0 || GLANZ_UNDO > 64 ||  \
    GLANZ_ENTRIES_MOST < 1 || GLANZ_ENTRIES_MOST > 64
#error "GLANZ_PLAYERS must be 1 to 16, GLANZ_NESTING 1 to 4, GLANZ_UNDO 0 to 64, GLANZ_ENTRIES_MOST 1 to 64"
#endif

/** 1: shows may have a calendar, with the sun and time zones. 0: they have none. RAM: 20 bytes for each of GLANZ_ENTRIES_MOST.
 *  Default 1 where GLANZ_SEQUENCES and GLANZ_LONG_TIME are, on AVR 0. */
#ifndef GLANZ_CALENDAR
#ifdef __AVR__
#define GLANZ_CALENDAR 0
#else
#define GLANZ_CALENDAR (GLANZ_SEQUENCES && GLANZ_LONG_TIME)
#endif
#endif

/** 1: effects, parameters, chips and palettes carry a line that says what they are, for programs that list them. 0: those are
 *  NULL. Flash: 2.1 KB with the whole catalogue. Default 0; the tool is built with 1. Shapes no struct. */
#ifndef GLANZ_DESCRIPTIONS
#define GLANZ_DESCRIPTIONS 0
#endif
#if GLANZ_CALENDAR && !(GLANZ_SEQUENCES && GLANZ_LONG_TIME)
#error "GLANZ_CALENDAR needs GLANZ_SEQUENCES and GLANZ_LONG_TIME"
#endif
#if GLANZ_DESCRIPTIONS
#define GLANZ_DESCRIPTION(text) GLANZ_TEXT(text)
#else
#define GLANZ_DESCRIPTION(text) NULL /**< a line that programs show, or NULL */
#endif

/** The options that shape structs, in one number: a program and the library it was linked with must agree, which
 *  glanz_device_start() checks. */
#define GLANZ_LAYOUT                                                                                                           \
    (((GLANZ_DRIVES_MOST * 65ul + GLANZ_SIGNALS_MOST) * 257ul + GLANZ_WATCHES_MOST + GLANZ_PASSING * 8191ul) * 2654435761ul +  \
     ((((((((((GLANZ_RUN * 5ul + GLANZ_FADES) * 9ul + GLANZ_PARAMS) * 129ul + GLANZ_INBOX) * 65ul + GLANZ_SAVED_MOST) * 33ul + \
           GLANZ_OUTPUTS_MOST) *                                                                                               \
              17ul +                                                                                                           \
          GLANZ_PLAYERS) *                                                                                                     \
             5ul +                                                                                                             \
         GLANZ_NESTING) *                                                                                                      \
            65ul +                                                                                                             \
        GLANZ_UNDO) *                                                                                                          \
           65ul +                                                                                                              \
       GLANZ_ENTRIES_MOST) *                                                                                                   \
      128ul) +                                                                                                                 \
     GLANZ_SEQUENCES * 64ul + GLANZ_CALENDAR * 32ul + GLANZ_FIELDS * 16ul + GLANZ_LONG_TIME * 4ul + GLANZ_GLIDES * 2ul)

#endif
