import { defineSlotRecipe } from '@chakra-ui/react'
import { fileUploadAnatomy } from '@chakra-ui/react/anatomy'

/** A button for files, and the place around it that they can be dropped on. */
export const fileUpload = defineSlotRecipe({
  className: 'chakra-file-upload',
  slots: fileUploadAnatomy.keys(),
  base: {
    dropzone: {
      display: 'flex',
      alignItems: 'center',
      gap: '8px',
      pr: '10px',
      borderWidth: '1px',
      borderStyle: 'dashed',
      borderColor: 'hairline',
      borderRadius: '2px',
      '& > button': { my: '-1px', ml: '-1px' },
      '&[data-dragging]': { borderColor: 'plum', bg: 'plum.wash' },
    },
  },
})
