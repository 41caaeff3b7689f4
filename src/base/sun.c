/* SPDX-License-Identifier: MIT */
/* Where the sun is. Angles are 32-bit turns: 2^32 is 360 degrees, so that they wrap by themselves. Sines and such are in
 * 2^30ths, by CORDIC (Volder 1959), good to some 2^-25. The sun's place: J. Meeus, Astronomical Algorithms, chapter 25, lower
 * accuracy (0.01 degree), seconds since 1 January 2000, 12:00 UTC; UTC is taken for Terrestrial Time, which is wrong by less
 * than 2 minutes and moves the sun by less than 0.0015 degree. */
#include <glanz/calendar.h>

#if GLANZ_CALENDAR

#define ONE ((int64_t)1 << 30)
#define J2000 946728000u
#define SIDEREAL 836283347205 /* 360.98564737 degrees a day, in 2^-24ths of a turn's 2^32 a second */
/* A number of millionths of a degree in turns. */
#define MICRO(d) ((uint32_t)(((int64_t)(d)*4294967296) / 360000000))

#define TURNS 28                            /* of the vector, each by half the angle of the one before */
static const uint32_t arctangents[TURNS] = {/* of 2^-i, in turns */
                                            0x20000000u, 0x12E4051Eu, 0x09FB385Bu, 0x051111D4u, 0x028B0D43u, 0x0145D7E1u,
                                            0x00A2F61Eu, 0x00517C55u, 0x0028BE53u, 0x00145F2Fu, 0x000A2F98u, 0x000517CCu,
                                            0x00028BE6u, 0x000145F3u, 0x0000A2FAu, 0x0000517Du, 0x000028BEu, 0x0000145Fu,
                                            0x00000A30u, 0x00000518u, 0x0000028Cu, 0x00000146u, 0x000000A3u, 0x00000051u,
                                            0x00000029u, 0x00000014u, 0x0000000Au, 0x00000005u};
#define CORDIC_GAIN 652032874 /* 0.6072529350 in 2^30ths */

static int32_t shifted(int32_t number, uint8_t by) { /* down, towards minus infinity, without shifting a negative number */
    return number >= 0 ? number >> by : ~(~number >> by);
}

static void sine_cosine(int64_t *sine, int64_t *cosine, uint32_t turn) {
    uint8_t back = turn > 0x40000000u && turn < 0xC0000000u;
    uint32_t left = back ? turn - 0x80000000u : turn; /* within a quarter of 0 */
    int32_t x = CORDIC_GAIN;
    int32_t y = 0;
    for (uint8_t i = 0; i < TURNS; i++) {
        int32_t dx = shifted(y, i);
        int32_t dy = shifted(x, i);
        uint8_t forward = left < 0x80000000u;
        x = forward ? x - dx : x + dx;
        y = forward ? y + dy : y - dy;
        left = forward ? left - arctangents[i] : left + arctangents[i];
    }
    *sine = back ? -y : y;
    *cosine = back ? -x : x;
}

/* The angle of (x, y), which is not longer than 1. */
static uint32_t angle_of(int64_t x, int64_t y) {
    uint32_t turn = x < 0 ? 0x80000000u : 0;
    int32_t across = (int32_t)(x < 0 ? -x : x);
    int32_t up = (int32_t)(x < 0 ? -y : y);
    for (uint8_t i = 0; i < TURNS; i++) {
        int32_t dx = shifted(up, i);
        int32_t dy = shifted(across, i);
        turn = up >= 0 ? turn + arctangents[i] : turn - arctangents[i];
        across = up >= 0 ? across + dx : across - dx;
        up = up >= 0 ? up - dy : up + dy;
    }
    return turn;
}

static int64_t product(int64_t a, int64_t b) {
    return a * b / ONE;
}

static int64_t root_of(int64_t square) { /* of 2^30ths: bit by bit */
    uint64_t rest = (uint64_t)(square < 0 ? 0 : square) << 30;
    uint64_t root = 0;
    for (uint64_t bit = (uint64_t)1 << 60; bit != 0; bit >>= 2) {
        uint64_t next = root + bit;
        root >>= 1;
        if (rest >= next) {
            rest -= next;
            root += bit;
        }
    }
    return (int64_t)root;
}

/* Turns after so many seconds at a rate, in 2^-24ths of a unit a second. */
static uint32_t after(int64_t seconds, int64_t rate) {
    uint64_t size = (uint64_t)(seconds < 0 ? -seconds : seconds);
    uint32_t turns = (uint32_t)(((size >> 8) * (uint64_t)rate) >> 16) + (uint32_t)(((size & 255u) * (uint64_t)rate) >> 24);
    return seconds < 0 ? 0u - turns : turns;
}

struct tilt {
    int64_t sine, cosine;
};

struct sun {
    uint32_t hour;        /* angle past the meridian of the place */
    int64_t sine, cosine; /* of the declination */
};

/* The slant of the Earth's axis: 0.013 degree less a century. */
static void find_tilt(struct tilt *tilt, int64_t seconds) {
    sine_cosine(&tilt->sine, &tilt->cosine, MICRO(23439291) - (uint32_t)(seconds * 49 / 1000000));
}

static void find_sun(struct sun *sun, const struct tilt *tilt, int64_t seconds, uint32_t longitude) {
    /* mean longitude 280.46646 + 0.98564736 a day, mean anomaly 357.52911 + 0.98560028 a day */
    uint32_t mean = MICRO(280466460) + after(seconds, 2283416195);
    uint32_t anomaly = MICRO(357529110) + after(seconds, 2283307130);
    int64_t s1;
    int64_t c1;
    int64_t s2;
    int64_t c2;
    sine_cosine(&s1, &c1, anomaly);
    sine_cosine(&s2, &c2, anomaly * 2u);
    /* equation of the centre, 1.9146 sin M + 0.019993 sin 2M - its slow change (0.0048 a century), and aberration */
    int64_t change = product(seconds, 1639); /* millionths of a degree: 0.0048 degree in a century */
    int64_t centre = (1914602 - change) * s1 / ONE + 19993 * s2 / ONE - 5690;
    uint32_t apparent = mean + (uint32_t)product(centre, 12810238940);
    sine_cosine(&s1, &c1, apparent);
    sun->sine = product(tilt->sine, s1);
    sun->cosine = root_of(ONE - product(sun->sine, sun->sine));
    uint32_t ascension = angle_of(c1, product(tilt->cosine, s1));
    /* sidereal time at Greenwich: 280.46062 + 360.98564737 a day */
    uint32_t sidereal = MICRO(280460618) + after(seconds, SIDEREAL);
    sun->hour = sidereal + longitude - ascension;
}

static uint32_t turns_of(int32_t ten_thousandths) {
    return (uint32_t)((int64_t)ten_thousandths * 4294967296 / 3600000);
}

enum glanz_sun glanz_sun_crosses(uint32_t *utc, uint32_t day, int32_t latitude, int32_t longitude, uint8_t sets) {
    const int64_t horizon = -15616385; /* sine of -0.83333 degree */
    int64_t sine;
    int64_t cosine;
    struct sun sun;
    struct tilt tilt;
    enum glanz_sun crosses = GLANZ_SUN_CROSSES;
    sine_cosine(&sine, &cosine, turns_of(latitude));
    uint32_t east = turns_of(longitude);
    int64_t noon = (int64_t)day * GLANZ_DAY + 43200 - (int64_t)longitude * 240 / 10000 - J2000;
    int64_t at = noon;
    find_tilt(&tilt, noon);
    for (uint8_t turn = 0; turn < 6; turn++) {
        find_sun(&sun, &tilt, at, east);
        int64_t below = product(cosine, sun.cosine);
        int64_t wanted = horizon - product(sine, sun.sine); /* = cosine of the hour angle times `below` */
        uint32_t angle;
        crosses = wanted > below ? GLANZ_SUN_STAYS_DOWN : wanted < -below ? GLANZ_SUN_STAYS_UP : GLANZ_SUN_CROSSES;
        if (crosses == GLANZ_SUN_CROSSES) {
            angle = angle_of(wanted, root_of(product(below, below) - product(wanted, wanted)));
        } else {
            angle = crosses == GLANZ_SUN_STAYS_UP ? 0x80000000u : 0; /* its lowest, or its highest */
        }
        uint32_t target = sets ? angle : 0u - angle;
        uint32_t off = target - sun.hour; /* the nearest such moment to where it is now */
        int64_t way = off < 0x80000000u ? (int64_t)off : (int64_t)off - 4294967296;
        if (turn == 0) { /* the first time to the right side of noon */
            int64_t from_noon = sun.hour < 0x80000000u ? (int64_t)sun.hour : (int64_t)sun.hour - 4294967296;
            way = (sets ? (int64_t)angle : -(int64_t)angle) - from_noon;
        }
        at += way * 86400 / 4294967296;
        if (way < 24000 && way > -24000) { /* half a second: near enough */
            break;
        }
    }
    at += J2000;
    *utc = at < 0 ? 0 : at > 0xFFFFFFFF ? 0xFFFFFFFFu : (uint32_t)at;
    return crosses;
}

#endif
