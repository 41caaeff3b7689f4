/* SPDX-License-Identifier: MIT */
#include "replay.h"

#include <string.h>

static glanz_status start(void *user, const struct glanz_sending *list, uint8_t count) {
    struct replayed *replayed = (struct replayed *)user;
    for (uint8_t i = 0; i < count; i++) {
        replayed->hash = glanz_crc32(replayed->hash, list[i].bytes, list[i].count);
    }
    replayed->sent++;
    return GLANZ_OK;
}

static int busy(void *user) {
    (void)user;
    return 0;
}

struct replayed replay(const struct scenario *scenario, void *memory, size_t size) {
    struct replayed replayed = {GLANZ_OK, 0, 0};
    struct glanz_port port;
    struct glanz_setup setup;
    struct glanz_device *device = NULL;
    GLANZ_CONST struct glanz_pushed *pushed = scenario->pushed;
    memset(&port, 0, sizeof port);
    memset(&setup, 0, sizeof setup);
    port.version = 1;
    port.user = &replayed;
    port.start = start;
    port.busy = busy;
    setup.rig = scenario->rig;
    setup.show = scenario->show;
    setup.port = &port;
    replayed.status = glanz_device_start(&device, memory, size, &setup, NULL);
#if GLANZ_FIELDS
    if (replayed.status == GLANZ_OK) { /* a day at noon, for what tells the time */
        replayed.status = glanz_engine_clock(glanz_device_engine(device), 20780, 43199);
    }
#endif
    for (uint16_t i = 0; i < scenario->frames && replayed.status == GLANZ_OK; i++) {
        uint32_t now = (uint32_t)i * 10000u;
        for (; pushed != NULL && pushed->time_us <= now; pushed++) {
            glanz_device_push(device, pushed->input, pushed->value, pushed->time_us);
        }
        replayed.status = glanz_device_frame(device, now);
    }
    return replayed;
}
