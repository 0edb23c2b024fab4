"""The skies of the later visits, from the dusk sky: after sunset (bluer, dimmer, no bright part) and night."""
import os
import cv2
import numpy as np

dusk = cv2.imread("out/sky1.hdr", cv2.IMREAD_UNCHANGED)
ceiling = np.percentile(dusk, 97)
evening = np.minimum(dusk, ceiling) * np.array([0.62, 0.42, 0.30], np.float32)
cv2.imwrite("out/sky2.hdr", evening.astype(np.float32))
cv2.imwrite("out/sky3.hdr", (evening * 0.12).astype(np.float32))
