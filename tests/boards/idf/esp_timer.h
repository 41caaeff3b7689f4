/* A stand-in, with just what ports/esp32 uses of that header. */
#include "esp_err.h"
int64_t esp_timer_get_time(void);
