/* SPDX-License-Identifier: MIT */
/* Forms for peripherals: a one-wire bit becomes 3 or 4 slots on an SPI, 3 to 5 on a UART. */
#include <glanz/chips.h>

int glanz_order_valid(uint8_t order, uint8_t channels) {
    uint8_t seen = 0;
    for (uint8_t i = 0; i < channels; i++) {
        seen = (uint8_t)(seen | (1u << glanz_order_channel(order, i)));
    }
    return order == GLANZ_ORDER_CHIP || seen == (channels == 4 ? 15u : 7u);
}

uint32_t glanz_chip_led_ns(GLANZ_CONST struct glanz_chip *chip) {
    return (uint32_t)chip->led_bytes * 8u * ((uint32_t)chip->one_high_ns + chip->one_low_ns);
}

static void narrow_one(uint16_t *least, uint16_t *most, uint16_t time, uint16_t tolerance) {
    uint16_t low = (uint16_t)(time > tolerance ? time - tolerance : 0);
    uint16_t high = (uint16_t)(time + tolerance);
    *least = low > *least ? low : *least;
    *most = high < *most ? high : *most;
}

glanz_status glanz_timing_narrow(struct glanz_timing *least, struct glanz_timing *most, GLANZ_CONST struct glanz_chip *chip) {
    if (least == NULL || most == NULL || chip == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    narrow_one(&least->zero_high, &most->zero_high, chip->zero_high_ns, chip->tolerance_ns);
    narrow_one(&least->zero_low, &most->zero_low, chip->zero_low_ns, chip->tolerance_ns);
    narrow_one(&least->one_high, &most->one_high, chip->one_high_ns, chip->tolerance_ns);
    narrow_one(&least->one_low, &most->one_low, chip->one_low_ns, chip->tolerance_ns);
    return least->zero_high <= most->zero_high && least->zero_low <= most->zero_low && least->one_high <= most->one_high &&
                   least->one_low <= most->one_low
               ? GLANZ_OK
               : GLANZ_ERR_ABSENT;
}

/* Slot lengths that make a pulse of so many slots last between two times. */
static void narrow_slot(uint32_t *low, uint32_t *high, uint32_t least, uint32_t most, uint32_t slots) {
    least = (least + slots - 1) / slots;
    most = most / slots;
    *low = least > *low ? least : *low;
    *high = most < *high ? most : *high;
}

glanz_status glanz_slots_fit(struct glanz_slots *slots, const struct glanz_timing *least, const struct glanz_timing *most,
                             uint8_t count) {
    uint32_t widest = 0;
    if (slots == NULL || least == NULL || most == NULL || count < 3 || count > 5) {
        return GLANZ_ERR_ARGUMENT;
    }
    for (uint8_t zero = 1; zero <= (count == 5 ? 2u : 1u);
         zero++) { /* 3 and 4 slots: the first that fits; 5: the one with the most to spare */
        for (uint8_t one = (uint8_t)(zero + 1u); one < count; one++) {
            uint32_t low = 1;
            uint32_t high = 100000;
            narrow_slot(&low, &high, least->zero_high, most->zero_high, zero);
            narrow_slot(&low, &high, least->zero_low, most->zero_low, (uint32_t)count - zero);
            narrow_slot(&low, &high, least->one_high, most->one_high, one);
            narrow_slot(&low, &high, least->one_low, most->one_low, (uint32_t)count - one);
            if (low <= high && (widest == 0 || (count == 5 && high - low + 1u > widest))) {
                widest = high - low + 1u;
                slots->slots = count;
                slots->zero_high = zero;
                slots->one_high = one;
                slots->slot_ns = (low + high) / 2;
            }
        }
    }
    return widest != 0 ? GLANZ_OK : GLANZ_ERR_ABSENT;
}

/* The slots of one bit, first slot in the highest of `slots` bits. */
static uint8_t slots_of(const struct glanz_slots *slots, uint8_t one) {
    uint8_t high = one ? slots->one_high : slots->zero_high;
    return (uint8_t)(((1u << high) - 1u) << (slots->slots - high));
}

/* Four bits spread to every third place. */
static GLANZ_CONST uint16_t third[16] = {0x000, 0x001, 0x008, 0x009, 0x040, 0x041, 0x048, 0x049,
                                         0x200, 0x201, 0x208, 0x209, 0x240, 0x241, 0x248, 0x249};

GLANZ_NOINLINE static void expand_three(uint8_t *out, const uint16_t *nibble, const uint8_t *bytes, size_t count) {
    for (const uint8_t *end = bytes + count; bytes != end; bytes++) {
        uint32_t byte = *bytes;
        uint32_t high = nibble[byte >> 4];
        uint32_t low = nibble[byte & 15u];
        out[0] = (uint8_t)(high >> 4);
        out[1] = (uint8_t)((high << 4) | (low >> 8));
        out[2] = (uint8_t)low;
        out += 3;
    }
}

GLANZ_NOINLINE static void expand_four(uint8_t *out, const uint16_t *nibble, const uint8_t *bytes, size_t count) {
    for (const uint8_t *end = bytes + count; bytes != end; bytes++) {
        uint32_t byte = *bytes;
        uint32_t high = nibble[byte >> 4];
        uint32_t low = nibble[byte & 15u];
        out[0] = (uint8_t)(high >> 8);
        out[1] = (uint8_t)high;
        out[2] = (uint8_t)(low >> 8);
        out[3] = (uint8_t)low;
        out += 4;
    }
}

/* All bytes in three slots a bit, of which the first is high, and of a 1 the second: what every chip wants that three slots
 * fit. */
#define SPREAD(byte)                                                                                                           \
    (0x924924ul | ((byte)&1ul) << 1 | ((byte)&2ul) << 3 | ((byte)&4ul) << 5 | ((byte)&8ul) << 7 | ((byte)&16ul) << 9 |         \
     ((byte)&32ul) << 11 | ((byte)&64ul) << 13 | ((byte)&128ul) << 15)
#define SPREAD_4(byte) SPREAD(byte), SPREAD((byte) + 1u), SPREAD((byte) + 2u), SPREAD((byte) + 3u)
#define SPREAD_16(byte) SPREAD_4(byte), SPREAD_4((byte) + 4u), SPREAD_4((byte) + 8u), SPREAD_4((byte) + 12u)
#define SPREAD_64(byte) SPREAD_16(byte), SPREAD_16((byte) + 16u), SPREAD_16((byte) + 32u), SPREAD_16((byte) + 48u)

#ifndef __AVR__
/* Where memory is written in words of four bytes. */
typedef uint32_t __attribute__((may_alias)) out_word;
#if defined(__BYTE_ORDER__) && __BYTE_ORDER__ == __ORDER_BIG_ENDIAN__
#define FIRST_HIGHEST(word) (word)
#else
#define FIRST_HIGHEST(word) __builtin_bswap32(word)
#endif

/* Four bytes at a time, into aligned words. @return how many were expanded. */
GLANZ_NOINLINE static size_t expand_words(uint8_t *out, const uint8_t *bytes, size_t count) {
    static GLANZ_CONST uint32_t spread[256] = {SPREAD_64(0u), SPREAD_64(64u), SPREAD_64(128u), SPREAD_64(192u)};
    out_word *to = (out_word *)(void *)out;
    const uint8_t *end = bytes + (count & ~(size_t)3u);
    while (bytes != end) {
        uint32_t second = spread[bytes[1]];
        uint32_t third_of = spread[bytes[2]];
        to[0] = FIRST_HIGHEST(spread[bytes[0]] << 8 | second >> 16);
        to[1] = FIRST_HIGHEST(second << 16 | third_of >> 8);
        to[2] = FIRST_HIGHEST(third_of << 24 | spread[bytes[3]]);
        to += 3;
        bytes += 4;
    }
    return count & ~(size_t)3u;
}
#endif

void glanz_spi_expand(uint8_t *out, const struct glanz_slots *slots, const uint8_t *bytes, size_t count) {
    uint16_t nibble[16]; /* the slots of four bits */
    uint8_t zero = slots_of(slots, 0);
    uint8_t more = (uint8_t)(slots_of(slots, 1) - zero); /* what a 1 has on top */
#ifndef __AVR__
    if (slots->slots == 3 && slots->zero_high == 1 && slots->one_high == 2 && ((uintptr_t)out & 3u) == 0) {
        size_t done = expand_words(out, bytes, count);
        out += done * 3u;
        bytes += done;
        count -= done;
        if (count == 0) {
            return;
        }
    }
#endif
    for (uint8_t i = 0; i < 16; i++) {
        if (slots->slots == 3) {
            nibble[i] = (uint16_t)(third[15] * zero + third[i] * more);
        } else {
            uint16_t fourth = (uint16_t)((i & 1u) | ((i & 2u) << 3) | ((i & 4u) << 6) | ((i & 8u) << 9));
            nibble[i] = (uint16_t)(0x1111u * zero + fourth * more);
        }
    }
    if (slots->slots == 3) {
        expand_three(out, nibble, bytes, count);
    } else {
        expand_four(out, nibble, bytes, count);
    }
}

size_t glanz_uart_size(const struct glanz_slots *slots, size_t count) {
    return slots->slots == 3 ? count / 3 * 8 : count * 4;
}

glanz_status glanz_uart_expand(uint8_t *out, const struct glanz_slots *slots, const uint8_t *bytes, size_t count) {
    if (out == NULL || slots == NULL || bytes == NULL || slots->slots < 3 || slots->slots > 5 ||
        (slots->slots == 3 && count % 3 != 0) || slots->zero_high == 0 || slots->one_high == 0 ||
        slots->zero_high >= slots->slots || slots->one_high >= slots->slots) {
        return GLANZ_ERR_ARGUMENT;
    }
    uint8_t bits = slots->slots == 3 ? 3 : 2; /* bits a character */
    uint8_t data = (uint8_t)((unsigned)bits * slots->slots - 2u);
    uint16_t line = 0; /* slots of the character, the first in the lowest bit */
    uint8_t held = 0;
    for (size_t i = 0; i < count; i++) {
        for (uint8_t mask = 128; mask != 0; mask = (uint8_t)(mask >> 1)) {
            uint8_t high = (bytes[i] & mask) != 0 ? slots->one_high : slots->zero_high;
            line = (uint16_t)(line | (((1u << high) - 1u) << (held * slots->slots)));
            if (++held == bits) {
                /* the line is inverted: start bit (0) is high, a data bit of 0 is high, stop (1) is low */
                *out++ = (uint8_t)(~(line >> 1) & ((1u << data) - 1u));
                line = 0;
                held = 0;
            }
        }
    }
    return GLANZ_OK;
}
