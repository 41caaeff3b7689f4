/* SPDX-License-Identifier: MIT */
/* What a way of listening comes to: its standards, its bands, and what cannot be. */
#include <glanz/signals.h>

struct glanz_hearing glanz_hearing_filled(GLANZ_CONST struct glanz_hearing *hearing) {
    struct glanz_hearing is = *hearing;
    uint32_t most = (uint32_t)is.rate_hz * 40u / 100u;
    is.bands = is.bands == 0 ? 8 : is.bands;
    is.low_hz = is.low_hz == 0 ? 60 : is.low_hz;
    is.high_hz = is.high_hz != 0 ? is.high_hz : (uint16_t)(most < 7000u ? most : 7000u);
    is.span_db = is.span_db == 0 ? 36 : is.span_db;
    is.adapts_ms = is.adapts_ms == 0 ? 4000 : is.adapts_ms;
    is.fall_ms = is.fall_ms == 0 ? 60 : is.fall_ms;
    is.silence_ms = is.silence_ms == 0 ? 1000 : is.silence_ms;
    return is;
}

/* Octaves between both ends, 16.16. */
static uint32_t octaves(const struct glanz_hearing *is) {
    return glanz_log2(is->high_hz) - glanz_log2(is->low_hz);
}

GLANZ_CONST char *glanz_hearing_wrong(GLANZ_CONST struct glanz_hearing *hearing) {
    struct glanz_hearing is = glanz_hearing_filled(hearing);
    if (is.rate_hz < 8000 || is.rate_hz > 48000) {
        return GLANZ_TEXT("its rate is not supported; expected 8000 to 48000 samples a second");
    }
    if (is.low_hz < 30 || is.high_hz > (uint32_t)is.rate_hz * 45u / 100u) {
        return GLANZ_TEXT("its bands reach beyond what can be heard; expected from 30 Hz to 0.45 of its rate");
    }
    if (is.bands > GLANZ_BANDS_MOST || is.high_hz <= is.low_hz || octaves(&is) < is.bands * (65536u / 6u)) {
        return GLANZ_TEXT("its bands are narrower than can be told apart; expected 1 to 32, each a sixth of an octave or more");
    }
    if (is.span_db < 12 || is.span_db > 72 || is.loudest_db > 80 || (is.gate_db != 0 && (is.gate_db < 20 || is.gate_db > 90))) {
        return GLANZ_TEXT("its levels cannot be; expected a span of 12 to 72 dB, a gate 20 to 90 dB below full scale");
    }
    if (is.hum_hz != 0 && (is.hum_hz < 45 || is.hum_hz > 65)) {
        return GLANZ_TEXT("its hum is not that of a mains; expected 45 to 65 Hz, or none");
    }
    if (is.adapts_ms < 100 || is.adapts_ms > 60000 || is.rise_ms > 5000 || is.fall_ms > 5000 || is.silence_ms < 50 ||
        is.silence_ms > 60000) {
        return GLANZ_TEXT("one of its times is out of bounds");
    }
    return NULL;
}

uint32_t glanz_hearing_edge(const struct glanz_hearing *hearing, uint8_t edge) {
    uint32_t down = (uint32_t)((uint64_t)octaves(hearing) * (uint8_t)(hearing->bands - edge) / hearing->bands);
    return glanz_times((uint32_t)hearing->high_hz * 16u, glanz_halving(down));
}
