"""Writes the metadata of a demo frame as the made-up camera "Sedge One" would."""
import subprocess


def write_exif(path, shutter, aperture, iso, focal, stamp, subsecond, **more):
    tags = [f"-ExposureTime={shutter}", f"-FNumber={aperture}", f"-ISO={iso}", f"-FocalLength={focal}", "-Make=Sedge", "-Model=Sedge One",
            f"-DateTimeOriginal={stamp}", f"-CreateDate={stamp}", f"-SubSecTimeOriginal={subsecond:02d}", "-Orientation#=1", "-ColorSpace#=1",
            "-Copyright=Wrenfold Marsh reserve"] + [f"-{key}={value}" for key, value in more.items()]
    subprocess.run(["exiftool", "-q", "-overwrite_original", *tags, path], check=True)
