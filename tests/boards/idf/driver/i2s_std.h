/* A stand-in, with just what ports/esp32 uses of that header. */
#include "esp_err.h"
typedef struct i2s_channel_obj_t *i2s_chan_handle_t;
esp_err_t i2s_channel_read(i2s_chan_handle_t handle, void *dest, size_t size, size_t *bytes_read, uint32_t timeout_ms);
