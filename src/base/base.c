/* SPDX-License-Identifier: MIT */
/* Base: tables of sine and exponential, hash, checksum, status names. Pure functions, no state. */
#include <glanz/base.h>

const char *glanz_status_name(glanz_status status) {
    switch (status) {
    case GLANZ_OK: return "GLANZ_OK";
    case GLANZ_ERR_ARGUMENT: return "GLANZ_ERR_ARGUMENT";
    case GLANZ_ERR_MEMORY: return "GLANZ_ERR_MEMORY";
    case GLANZ_ERR_RIG: return "GLANZ_ERR_RIG";
    case GLANZ_ERR_SHOW: return "GLANZ_ERR_SHOW";
    case GLANZ_ERR_TEXT: return "GLANZ_ERR_TEXT";
    case GLANZ_ERR_BUSY: return "GLANZ_ERR_BUSY";
    case GLANZ_ERR_PORT: return "GLANZ_ERR_PORT";
    case GLANZ_ERR_FULL: return "GLANZ_ERR_FULL";
    case GLANZ_ERR_ABSENT: return "GLANZ_ERR_ABSENT";
    case GLANZ_ERR_DAMAGED: return "GLANZ_ERR_DAMAGED";
    case GLANZ_ERR_STATE: return "GLANZ_ERR_STATE";
    case GLANZ_ERR_NEWER: return "GLANZ_ERR_NEWER";
    }
    return "unknown status";
}

#ifdef __AVR__
uint16_t glanz_mix16(uint16_t a, uint16_t b, uint32_t f) {
    uint16_t part = (uint16_t)(f >> 1);
    if (b < a) {
        return (uint16_t)(a - (uint16_t)((((uint32_t)(uint16_t)(a - b) * part + 32767u) << 1) >> 16));
    }
    return (uint16_t)(a + (uint16_t)((((uint32_t)(uint16_t)(b - a) * part) << 1) >> 16));
}

#endif

#ifdef GLANZ_MUL32_CALL
uint32_t glanz_mul32_high(uint32_t a, uint32_t b) { /* four 16-bit products */
    uint16_t a_high = (uint16_t)(a >> 16);
    uint16_t b_high = (uint16_t)(b >> 16);
    uint32_t middle = (uint32_t)a_high * (uint16_t)b; /* adding less than 2^16 to a product of 16 bits cannot overflow */
    middle += (uint16_t)(((uint32_t)(uint16_t)a * (uint16_t)b) >> 16);
    uint32_t other = (uint32_t)(uint16_t)a * b_high + (uint16_t)middle;
    return (uint32_t)a_high * b_high + (uint16_t)(middle >> 16) + (uint16_t)(other >> 16);
}
#endif

uint32_t glanz_times(uint32_t number, uint32_t factor) {
    uint16_t whole = (uint16_t)(factor >> 16);
    uint16_t part = (uint16_t)factor;
    uint32_t product = (uint32_t)(uint16_t)(number >> 16) * part + (uint16_t)(((uint32_t)(uint16_t)number * part) >> 16);
    if (whole == 0) {
        return product;
    }
#ifdef __AVR__ /* flash is scarcer there than time */
    return number > (0xFFFFFFFFu - product) / whole ? 0xFFFFFFFFu : product + number * whole;
#else /* no division to find out whether it fits: that is long on small CPUs */
    uint32_t upper = (uint32_t)(uint16_t)(number >> 16) * whole;
    uint32_t sum = (uint32_t)(uint16_t)number * whole;
    if (upper > 65535u || sum > 0xFFFFFFFFu - (upper << 16)) {
        return 0xFFFFFFFFu;
    }
    return glanz_plus(sum + (upper << 16), product);
#endif
}

uint32_t glanz_fraction(uint32_t num, uint32_t den) {
    uint32_t fraction = 0;
    for (uint8_t bit = 0; bit < 32; bit++) { /* long division: one bit a turn; the remainder stays below `den` */
        uint8_t carry = (uint8_t)(num >> 31);
        num <<= 1;
        fraction <<= 1;
        if (carry || num >= den) {
            num -= den;
            fraction |= 1u;
        }
    }
    return fraction;
}

uint32_t glanz_ratio(uint32_t num, uint32_t den) {
    if (num >= den) {
        return 65536;
    }
    return den >> 16 == 0 ? (num << 16) / den : glanz_fraction(num, den) >> 16;
}

/* First quarter of a sine, 64 steps, scaled to 32767; and one more, so that each has one behind it. */
static GLANZ_CONST uint16_t sine_quarter[66] = {
    0,     804,   1608,  2410,  3212,  4011,  4808,  5602,  6393,  7179,  7962,  8739,  9512,  10278, 11039, 11793, 12539,
    13279, 14010, 14732, 15446, 16151, 16846, 17530, 18204, 18868, 19519, 20159, 20787, 21403, 22005, 22594, 23170, 23731,
    24279, 24811, 25329, 25832, 26319, 26790, 27245, 27683, 28105, 28510, 28898, 29268, 29621, 29956, 30273, 30571, 30852,
    31113, 31356, 31580, 31785, 31971, 32137, 32285, 32412, 32521, 32609, 32678, 32728, 32757, 32767, 32767};

int glanz_sine(unsigned turn) {
    unsigned quarter = turn & 0x3FFFu;
    if ((turn & 0x4000u) != 0) {
        quarter = 0x4000u - quarter;
    }
    GLANZ_CONST uint16_t *at = &sine_quarter[quarter >> 8];
    unsigned level = at[0];
    level += (unsigned)((uint32_t)(at[1] - level) * (uint8_t)quarter >> 8);
    return (turn & 0x8000u) != 0 ? 0 - (int)level : (int)level;
}

/* 65536 * 2^(-i/32), less 65536 * 2^-1 so that it fits 16 bits (the first is 65536 - 32768). */
static GLANZ_CONST uint16_t halving_step[33] = {32768, 31364, 29989, 28645, 27329, 26041, 24781, 23548, 22341, 21160, 20005,
                                                18874, 17767, 16684, 15625, 14588, 13573, 12580, 11608, 10657, 9727,  8816,
                                                7925,  7053,  6200,  5365,  4548,  3748,  2966,  2200,  1451,  718,   0};

uint32_t glanz_halving(uint32_t u) {
    uint32_t whole = u >> 16;
    if (whole > 16) {
        return 0;
    }
    uint16_t index = (uint16_t)((u >> 11) & 31u);
    uint32_t part = (u & 0x7FFu);
    uint32_t high = halving_step[index];
    uint32_t low = halving_step[index + 1];
    return (32768u + high - (((high - low) * part) >> 11)) >> whole;
}

/* 65536 log2(1 + i/32); the last one less, so that it fits 16 bits. */
static GLANZ_CONST uint16_t log2_step[33] = {0,     2909,  5732,  8473,  11136, 13727, 16248, 18704, 21098, 23433, 25711,
                                             27936, 30109, 32234, 34312, 36346, 38336, 40286, 42196, 44068, 45904, 47705,
                                             49472, 51207, 52911, 54584, 56229, 57845, 59434, 60997, 62534, 64047, 65535};

uint32_t glanz_log2(uint32_t number) {
    uint32_t whole = 31;
    if (number == 0) {
        return 0;
    }
    for (uint32_t bits = 16; bits != 0; bits >>= 1) { /* the highest bit that is set goes to the top */
        if (number >> (32u - bits) == 0) {
            number <<= bits;
            whole -= bits;
        }
    }
    uint32_t index = (number >> 26) & 31u;
    uint32_t part = (number >> 10) & 0xFFFFu;
    uint32_t low = log2_step[index];
    return (whole << 16) + low + (((log2_step[index + 1u] - low) * part) >> 16);
}

uint32_t glanz_hash(uint32_t number) {
    return glanz_hash_here(number);
}

uint32_t glanz_text_hash(GLANZ_CONST char *text) {
    uint32_t hash = 0;
    for (; text != NULL && *text != '\0'; text++) {
        hash = glanz_hash2(hash, (uint8_t)*text);
    }
    return hash;
}

/* What four bits leave, divided by the polynomial 0xEDB88320 (IEEE 802.3, bits mirrored). */
static GLANZ_CONST uint32_t rests[16] = {0,           0x1DB71064u, 0x3B6E20C8u, 0x26D930ACu, 0x76DC4190u, 0x6B6B51F4u,
                                         0x4DB26158u, 0x5005713Cu, 0xEDB88320u, 0xF00F9344u, 0xD6D6A3E8u, 0xCB61B38Cu,
                                         0x9B64C2B0u, 0x86D3D2D4u, 0xA00AE278u, 0xBDBDF21Cu};

uint32_t glanz_crc32(uint32_t crc, const void *bytes, size_t count) {
    const uint8_t *byte = (const uint8_t *)bytes;
    crc = ~crc;
    for (size_t i = 0; bytes != NULL && i < count; i++) {
        crc ^= byte[i];
        crc = (crc >> 4) ^ rests[crc & 15u];
        crc = (crc >> 4) ^ rests[crc & 15u];
    }
    return ~crc;
}

int glanz_text_equal(GLANZ_CONST char *a, const char *b) {
    if (a == NULL || b == NULL) {
        return a == NULL && b == NULL;
    }
    while (*a != '\0' && *a == *b) {
        a++;
        b++;
    }
    return *a == *b;
}

int glanz_name_equal(GLANZ_CONST char *a, GLANZ_CONST char *b) {
    if (a == NULL || b == NULL) {
        return a == NULL && b == NULL;
    }
    while (*a != '\0' && *a == *b) {
        a++;
        b++;
    }
    return *a == *b;
}
