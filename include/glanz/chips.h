/* SPDX-License-Identifier: MIT */
/** @file
 *  Chips: what LED chips want to see on the data line, and the forms in which a port's peripheral can clock it out.
 */
#ifndef GLANZ_CHIPS_H
#define GLANZ_CHIPS_H

#include <glanz/light.h>

GLANZ_HEADER_BEGIN

/** How bytes travel. */
enum glanz_protocol {
    GLANZ_ONE_WIRE, /**< one line; the length of a high pulse is the bit; a long low latches */
    GLANZ_CLOCKED   /**< data and clock; each LED latches as its data passes */
};

/** Colour order: which of red (0), green (1), blue (2), white (3) is sent first, second, third, fourth. */
#define GLANZ_ORDER(first, second, third, fourth) ((uint8_t)((first) | ((second) << 2) | ((third) << 4) | ((fourth) << 6)))
#define GLANZ_ORDER_CHIP 0 /**< the chip's own order */

/** A run of LEDs on its way to bytes. The engine fills it. */
struct glanz_put {
    struct glanz_light *light;         /**< `count` lights; scratch for the chip afterwards */
    const uint32_t *gain;              /**< by channel: red, green, blue, white; 0 to 65536 */
    const struct glanz_dither *dither; /**< of this frame */
    uint8_t *bytes;                    /**< of the run's first LED */
    const uint8_t *shown;              /**< the same LED's bytes that are lit now; clocked chips only */
    uint8_t *remainders;               /**< of the run's first LED, one a channel */
    uint16_t first;                    /**< the run's first LED on its output */
    uint8_t count;
    uint8_t channels;         /**< 3 or 4 */
    uint8_t order;            /**< never GLANZ_ORDER_CHIP */
    uint8_t restless;         /**< in/out: 1 when the next frame may differ by dither alone, or is shaded in any case */
    struct glanz_tally tally; /**< in/out; light and bytes since the begin of a stretch */
    const uint32_t *weight;   /**< by channel: microamps fully on; clocked chips only */
    union {
        struct {                      /* one-wire chips with white */
            uint16_t kelvin;          /**< colour of the white LED; 0: no white is taken out of the colours */
            uint8_t known;            /**< 1: `ready` is; set to 0 at the begin of a stretch */
            struct glanz_white ready; /**< the same as light: worked out by the chip at the first run */
        } white;
        struct {              /* clocked chips, rationed; kept along the line */
            uint32_t rise_ua; /**< what the line may draw more than it shows, while its LEDs latch one after another */
            uint64_t spare;   /**< what is left of it, times GLANZ_CLOCKED_FULL; the chip begins it at the first LED */
        } clocked;
    } kind; /**< what a kind of chip remembers within a line */
};
#define GLANZ_CLOCKED_FULL (31u * 255u) /**< chip units of a clocked channel that is fully on */

/** A LED chip: facts from its data sheet. */
struct glanz_chip {
    GLANZ_CONST char *name;        /**< part number */
    GLANZ_CONST char *description; /**< one line */
    uint8_t protocol;              /**< enum glanz_protocol */
    uint8_t channels;              /**< 3 or 4 */
    uint8_t order;                 /**< its own colour order */
    uint8_t head_bytes;            /**< bytes before the first LED */
    uint8_t led_bytes;             /**< bytes a LED */
    uint16_t full;          /**< chip units of a channel that is fully on: 255, or more where a brightness field multiplies */
    uint16_t millivolts;    /**< supply */
    uint16_t channel_ua[4]; /**< current of a channel that is fully on, microamps */
    uint16_t idle_ua;       /**< current when dark */
    uint16_t zero_high_ns, zero_low_ns; /**< one-wire: the two pulses of a 0; clocked: clock half period */
    uint16_t one_high_ns, one_low_ns;   /**< and of a 1 */
    uint16_t tolerance_ns;              /**< of each */
    uint16_t reset_us;                  /**< a low this long latches, on every revision of the chip */
    uint16_t reset_least_us;            /**< a low this long latches on some */
    /** Light to bytes, for a run. Called by the engine. */
    void (*put)(struct glanz_put *put);
    /** Bytes after the last LED. NULL: none. */
    uint16_t (*tail_bytes)(uint16_t leds);
};

extern GLANZ_CONST struct glanz_chip glanz_chip_ws2812b;     /**< 5 V, 800 kHz */
extern GLANZ_CONST struct glanz_chip glanz_chip_sk6812;      /**< 5 V, 800 kHz */
extern GLANZ_CONST struct glanz_chip glanz_chip_sk6812_rgbw; /**< the same with a white LED beside */
extern GLANZ_CONST struct glanz_chip glanz_chip_ws2811;      /**< a driver for three LEDs in series, 12 V, 800 kHz */
extern GLANZ_CONST struct glanz_chip glanz_chip_ws2811_400;  /**< the same at 400 kHz */
extern GLANZ_CONST struct glanz_chip glanz_chip_apa102;      /**< 5 V, data and clock, with a brightness field */
extern GLANZ_CONST struct glanz_chip glanz_chip_sk9822;      /**< the same, the field in constant current */

/** Bytes that a device keeps for each LED of a chip where its output has one buffer, and for a line of it beside, as constants:
 *  the chip's name with _led_memory and _line_memory behind. A chip of your own has its own pair. */
enum glanz_chip_memory {
    glanz_chip_ws2812b_led_memory = 6,
    glanz_chip_ws2812b_line_memory = 0,
    glanz_chip_sk6812_led_memory = 6,
    glanz_chip_sk6812_line_memory = 0,
    glanz_chip_sk6812_rgbw_led_memory = 8,
    glanz_chip_sk6812_rgbw_line_memory = 0,
    glanz_chip_ws2811_led_memory = 6,
    glanz_chip_ws2811_line_memory = 0,
    glanz_chip_ws2811_400_led_memory = 6,
    glanz_chip_ws2811_400_line_memory = 0,
    glanz_chip_apa102_led_memory = 12,
    glanz_chip_apa102_line_memory = 40,
    glanz_chip_sk9822_led_memory = 12,
    glanz_chip_sk9822_line_memory = 40
};

/** All chips: a list closed by NULL. */
extern GLANZ_CONST struct glanz_chip *GLANZ_CONST glanz_chips[];

/** The chip of that part number, or NULL. */
GLANZ_CONST struct glanz_chip *glanz_chip_find(const char *name);

/** The order's channel that is sent at a position, 0 to 3: 0 red, 1 green, 2 blue, 3 white. */
static inline uint8_t glanz_order_channel(uint8_t order, uint8_t position) {
    return (uint8_t)((uint8_t)(order >> (position * 2)) & 3u);
}

/** Is this an order of so many channels: each of them once? GLANZ_ORDER_CHIP is. */
int glanz_order_valid(uint8_t order, uint8_t channels);

/** Nanoseconds that one LED takes on the line. */
uint32_t glanz_chip_led_ns(GLANZ_CONST struct glanz_chip *chip);

/* ---- forms for peripherals ---- */

/** A one-wire bit as equal slots on a line: what an SPI or a UART can clock out. */
struct glanz_slots {
    uint8_t slots;     /**< a bit: 3 to 5 */
    uint8_t zero_high; /**< high slots of a 0 */
    uint8_t one_high;  /**< high slots of a 1 */
    uint32_t slot_ns;  /**< how long a slot must last */
};

/** The four times of a one-wire bit, nanoseconds. */
struct glanz_timing {
    uint16_t zero_high, zero_low, one_high, one_low; /**< nanoseconds of each pulse of a 0 and of a 1 */
};

/** Narrow a window of times to what a chip's data sheet allows. Begin with `least` all 0 and `most` all 65535; then every
 *  chip of a line in turn. @return GLANZ_ERR_ABSENT when nothing is left: these chips cannot share a line. */
GLANZ_NODISCARD glanz_status glanz_timing_narrow(struct glanz_timing *least, struct glanz_timing *most,
                                                 GLANZ_CONST struct glanz_chip *chip);

/** Slots whose times lie within a window.
 *  @param count 3 to 5 slots a bit: 3 or 4 for an SPI, all of them for a UART.
 *  @return GLANZ_ERR_ABSENT when no slot length meets all four times, GLANZ_ERR_ARGUMENT. */
GLANZ_NODISCARD glanz_status glanz_slots_fit(struct glanz_slots *slots, const struct glanz_timing *least,
                                             const struct glanz_timing *most, uint8_t count);

/** Bytes that `count` bytes expand to on an SPI: exactly 3 or 4 times as many. */
static inline size_t glanz_spi_size(const struct glanz_slots *slots, size_t count) {
    return count * slots->slots;
}

/** Expand bytes for an SPI that sends the most significant bit first. Any part of a frame can be expanded by itself, so a
 *  DMA buffer of any multiple of `slots` bytes will do.
 *  @param out room for glanz_spi_size() bytes; twice as fast where it is aligned for a uint32_t and `count` is a multiple of 4.
 */
void glanz_spi_expand(uint8_t *out, const struct glanz_slots *slots, const uint8_t *bytes, size_t count);

/** Characters that `count` bytes expand to on a UART. 3 slots: 8 characters for 3 bytes (7 data bits); 4 slots: 4 for 1 (6
 *  data bits); 5 slots: 4 for 1 (8 data bits, as every UART has). With 3 slots `count` must be a multiple of 3. */
size_t glanz_uart_size(const struct glanz_slots *slots, size_t count);

/** Expand bytes for a UART with inverted output, no parity, one stop bit, and 7 (3 slots), 6 (4 slots) or 8 (5 slots) data
 *  bits: start bit, data and stop bit are the slots of 3 or 2 bits. The baud rate is 1e9 / slot_ns.
 *  @return GLANZ_ERR_ARGUMENT when one_high or zero_high cannot be made so (the first slot must be high, the last low). */
GLANZ_NODISCARD glanz_status glanz_uart_expand(uint8_t *out, const struct glanz_slots *slots, const uint8_t *bytes,
                                               size_t count);

GLANZ_HEADER_END
#endif
