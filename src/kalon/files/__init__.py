"""Files of feet: reading scans, pictures, mats and records, measuring them in processes of their own, writing them."""
